// At the bench a reading is kept on this device while there is no connection.
//
// What is kept is the very form that was sent. The server takes one form once, however often it is sent, so
// sending again what may have arrived does no harm.

import { offerTaking } from "./readings.js";
import { whenShown } from "./shown.js";

let form = null;
let keeper = null;
const RETRY_MS = 4000;

const csrfToken = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1];

class Keeper {
  #key = `kentrobar-reading-${form.action}`;
  #isSending = false;

  get kept() {
    return localStorage.getItem(this.#key);
  }

  keep(body) {
    localStorage.setItem(this.#key, body);
    return this.send();
  }

  /** Send what is kept; it is forgotten once the server has answered to it. */
  async send() {
    if (!this.kept || this.#isSending) return;
    this.#isSending = true;
    const answer = await fetch(form.action, {
      method: "POST",
      body: new URLSearchParams(this.kept),
    }).catch(() => null);
    this.#isSending = false;
    if (!answer || answer.status >= 500) {
      say("No connection. Your reading is kept on this device and sent when it is back.");
    } else if (new URL(answer.url).pathname.startsWith("/accounts/")) {
      say("You are signed out. Your reading is kept on this device; sign in again to send it.");
    } else if (answer.status === 403) {
      this.#signAnew();
    } else {
      localStorage.removeItem(this.#key);
      if (answer.redirected) window.location.assign(answer.url);
      else refused(await answer.text());
    }
  }

  /** Somebody signed in anew since: the form is signed with their token; it was not taken before. */
  #signAnew() {
    const body = new URLSearchParams(this.kept);
    if (body.get("csrfmiddlewaretoken") === csrfToken()) {
      return say("Your reading is kept on this device. Reload this page, and it is sent.");
    }
    body.set("csrfmiddlewaretoken", csrfToken());
    this.keep(body.toString());
  }
}

function say(text) {
  const place = document.getElementById("kept");
  place.textContent = text;
  place.hidden = !text;
}

/** The server did not take it: its form says why, with what was typed in its fields. */
function refused(html) {
  const there = new DOMParser().parseFromString(html, "text/html").getElementById("reading");
  if (!there) return window.location.reload();
  form.replaceChildren(...there.childNodes);
  offerTaking(form);
  form.querySelector("[role=alert]:not(:empty)")?.scrollIntoView({ block: "center" });
}

whenShown("#reading", (shown) => {
  form = shown;
  keeper = new Keeper();
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    if (keeper.kept) return say("One reading waits to be sent; take the next once it is.");
    keeper.keep(new URLSearchParams(new FormData(form)).toString());
  });
  keeper.send();
});
window.addEventListener("online", () => keeper?.send());
setInterval(() => keeper?.send(), RETRY_MS);
