// Keeps what a person types in a table whose rows the server renews.

const keyOf = (field) => `${field.closest("[data-row]")?.dataset.row}/${field.dataset.field}`;

export function keepTyping(table) {
  const refusals = new Map(); // what was typed and refused, until it is fixed

  const find = (key) => {
    const [row, field] = key.split("/");
    return table.querySelector(`[data-row="${row}"] [data-field="${field}"]`);
  };

  const mark = (key) => {
    const field = find(key);
    if (!field) return void refusals.delete(key);
    const { value, message } = refusals.get(key);
    const id = `refused-${key.replace("/", "-")}`;
    if (field.type !== "checkbox") field.value = value;
    field.setAttribute("aria-invalid", "true");
    field.setAttribute("aria-describedby", id);
    const cell = field.closest("td");
    cell.querySelector(".error")?.remove();
    const sentence = document.createElement("p");
    Object.assign(sentence, { id, className: "error", textContent: message });
    sentence.setAttribute("role", "alert");
    cell.append(sentence);
  };

  table.addEventListener("change", (event) => {
    if (event.target.dataset.field) refusals.delete(keyOf(event.target));
  });
  table.addEventListener("keydown", (event) => {
    const field = event.target;
    if (event.key !== "Escape" || !field.dataset.field) return;
    refusals.delete(keyOf(field));
    field.value = field.defaultValue;
    field.removeAttribute("aria-invalid");
    field.closest("td").querySelector(".error")?.remove();
  });

  return {
    /** Show the sentence at the field and keep what was typed. */
    refuse({ piece, field, value }, message) {
      const key = `${piece}/${field}`;
      refusals.set(key, { value, message });
      mark(key);
    },

    /** Run `renew`, which replaces the rows, without losing focus or half-typed text. */
    around(renew) {
      const field = document.activeElement;
      const inTable = table.contains(field) && field.dataset.field;
      const key = inTable && keyOf(field);
      const typed = inTable && field.type === "text" && field.value !== field.defaultValue;
      const { value, selectionStart, selectionEnd } = inTable ? field : {};
      renew();
      for (const refused of refusals.keys()) mark(refused);
      const renewed = key && find(key);
      if (!renewed) return;
      if (typed) renewed.value = value;
      renewed.focus({ preventScroll: true });
      if (renewed.type === "text") renewed.setSelectionRange(selectionStart, selectionEnd);
    },
  };
}
