"""A page's form as a browser holds it: what it would send if nobody touched it."""

from html.parser import HTMLParser


class _Fields(HTMLParser):
    def __init__(self):
        super().__init__()
        self.sent = {}
        self.select = self.area = None

    def handle_starttag(self, tag, attrs):
        at = dict(attrs)
        name = at.get("name")
        if tag == "option" and self.select:
            self.options.append(at.get("value", ""))
            if "selected" in at:
                self.chosen = at.get("value", "")
        elif name and tag == "select":
            self.select, self.options, self.chosen = name, [], None
        elif name and tag == "textarea":
            self.area, self.text = name, ""
        elif name and tag == "input":
            is_box = at.get("type") in ("checkbox", "radio")
            if not is_box or "checked" in at:
                self.sent.setdefault(name, []).append(at.get("value", "on" if is_box else ""))

    def handle_data(self, data):
        if self.area:
            self.text += data

    def handle_endtag(self, tag):
        if tag == "select" and self.select:
            first = self.options[:1] if self.chosen is None else [self.chosen]
            self.sent.setdefault(self.select, []).extend(first)
            self.select = None
        elif tag == "textarea" and self.area:
            self.sent[self.area] = [self.text.removeprefix("\n").replace("\n", "\r\n")]
            self.area = None


def form_of(response, field):
    """What the form with this field would send, by name."""
    page = response.content.decode()
    before, _, _ = page.partition(f'name="{field}"')
    start = before.rindex("<form")
    fields = _Fields()
    fields.feed(page[start : page.index("</form>", start)])
    return fields.sent
