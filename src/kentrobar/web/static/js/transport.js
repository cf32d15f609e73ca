// Sends what the hand did to the server, one change at a time and in order.
//
// A change that cannot be sent is kept on this device, over reloads too, until the server has it.
// `base` is the version of the plan that the first kept change was made on: the server refuses
// it where the plan has moved on, so that nothing is overwritten silently.

const RETRY_MS = 3000;

const csrfToken = () =>
  document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ??
  document.querySelector("[name=csrfmiddlewaretoken]").value;

/** A name for one change: the server takes it once, however often it is sent. */
const newMark = () => crypto.getRandomValues(new Uint32Array(4)).join("-").slice(0, 40);

const post = (url, parameters) =>
  fetch(url, {
    method: "POST",
    headers: { "X-CSRFToken": csrfToken(), "X-Requested-With": "fetch" },
    body: new URLSearchParams(parameters),
    redirect: "manual",
  });

export class Transport {
  #key;
  #url;
  #kept;
  #busy = false;
  #retry = null;
  #previewing = false;
  #wanted = null;
  #epoch = 0;

  /** `page` answers with onSaved(parts), onRefused(change, error), onPreviewRefused(), onConflict(), onState(). */
  constructor(root, page) {
    this.page = page;
    this.#url = root.dataset.url;
    this.#key = `kentrobar-kept-${root.dataset.plan}`;
    this.version = Number(root.dataset.version);
    this.revision = Number(root.dataset.revision);
    this.#kept = JSON.parse(localStorage.getItem(this.#key) ?? "null") ?? { changes: [] };
    window.addEventListener("online", () => this.pump());
    window.addEventListener("focus", () => this.catchUp());
    document.addEventListener("visibilitychange", () => !document.hidden && this.catchUp());
  }

  get waiting() {
    return this.#kept.changes.length;
  }

  send(change) {
    this.#epoch += 1;
    if (!this.waiting) Object.assign(this.#kept, { base: this.version, revision: this.revision });
    this.#kept.changes.push({ ...change, mark: newMark() });
    this.#store();
    this.pump();
  }

  async pump() {
    if (this.#busy || !this.waiting) return;
    clearTimeout(this.#retry);
    this.#busy = true;
    this.page.onState("saving", this.waiting);
    let state = "saved";
    while (this.waiting && state === "saved") state = await this.#sendFirst();
    this.#busy = false;
    this.page.onState(state, this.waiting);
    if (state === "offline") this.#retry = setTimeout(() => this.pump(), RETRY_MS);
  }

  async #sendFirst() {
    const change = this.#kept.changes[0];
    let response;
    try {
      response = await post(`${this.#url}change`, { ...change, base: this.#kept.base });
    } catch {
      return "offline";
    }
    if (response.type === "opaqueredirect" || response.status === 403) return "signed-out";
    if (response.status === 409) {
      this.page.onConflict(await response.json());
      return "conflict";
    }
    if (response.status === 422) {
      this.#forgetFirst();
      this.page.onRefused(change, await response.json());
      return "saved";
    }
    if (!response.ok) return "offline";
    this.#take(await response.json());
    this.#forgetFirst();
    return "saved";
  }

  /** What an action would make of the plan; only the newest wish is asked while one is on its way. */
  async preview(change) {
    this.#wanted = change;
    document.dispatchEvent(new CustomEvent("plan-previewed", { detail: change }));
    if (this.#previewing || this.waiting) return;
    this.#previewing = true;
    while (this.#wanted) {
      const asked = this.#wanted;
      const epoch = this.#epoch;
      this.#wanted = null;
      try {
        const response = await post(`${this.#url}preview`, asked);
        if (epoch !== this.#epoch) continue;
        if (response.ok) this.page.onPreview(await response.json(), asked);
        else if (response.status === 422) this.page.onPreviewRefused(asked, await response.json());
      } catch {
        break; // the change itself is kept when the hand lets go
      }
    }
    this.#previewing = false;
  }

  /** Take over what was changed elsewhere, where nothing of ours waits. */
  async catchUp() {
    if (this.waiting || this.#busy) return this.pump();
    return this.refresh(this.version);
  }

  /** Show the plan as the server has it, unless that is `known`. */
  async refresh(known = 0) {
    try {
      const response = await fetch(`${this.#url}parts?version=${known}`, { redirect: "manual" });
      if (!response.ok) return;
      const parts = await response.json();
      if (!parts.html || this.waiting) return;
      const fromElsewhere = parts.version !== this.version;
      this.#take(parts);
      if (fromElsewhere) this.page.onState("caught-up", 0);
    } catch {
      this.page.onState("offline", 0);
    }
  }

  /** Answer a conflict: our changes on top of theirs, as a copy of the plan, or not at all. */
  async resolve(choice, theirVersion) {
    if (choice === "drop") {
      this.#kept.changes = [];
      this.#store();
      await this.catchUp();
      this.page.onState("saved", 0);
    } else if (choice === "rebase") {
      this.#kept.base = theirVersion;
      this.#store();
      await this.pump();
    } else {
      await this.#copy();
    }
  }

  async #copy() {
    const answer = await post(`${this.#url}copy`, { revision: this.#kept.revision });
    const copy = await answer.json();
    const key = `kentrobar-kept-${copy.plan}`;
    const kept = { base: copy.version, revision: copy.version, changes: this.#kept.changes };
    localStorage.setItem(key, JSON.stringify(kept));
    this.#kept.changes = [];
    this.#store();
    window.location.assign(copy.url);
  }

  #take(parts) {
    this.version = parts.version;
    this.revision = parts.revision ?? this.revision;
    this.#kept.base = parts.version;
    this.#kept.revision = this.revision;
    if (!parts.html) return;
    this.page.onSaved(parts);
    document.dispatchEvent(new CustomEvent("plan-saved"));
  }

  #forgetFirst() {
    this.#kept.changes.shift();
    this.#store();
  }

  #store() {
    if (this.waiting) localStorage.setItem(this.#key, JSON.stringify(this.#kept));
    else localStorage.removeItem(this.#key);
  }
}
