// A search told as it goes: asks for two answers at a time, shows them in order of weight, until stopped.

const box = document.getElementById("search");
const stopping = new AbortController();

/** Puts an answer among the others, lightest first; the same plan is shown once. */
function show(place, html) {
  const holder = document.createElement(place.tagName === "TR" ? "tbody" : "div");
  holder.innerHTML = html;
  const answer = holder.firstElementChild;
  place.remove();
  const answers = document.getElementById("answers");
  const shown = [...answers.querySelectorAll("[data-order]")];
  if (!answer || shown.some(({ dataset }) => dataset.places && dataset.places === answer.dataset.places))
    return;
  const after = shown.find(({ dataset }) => Number(dataset.order) > Number(answer.dataset.order));
  const first = answers.querySelector("[data-search]");
  answers.insertBefore(answer, after ?? first);
}

function finish(sentence) {
  document.getElementById("progress").textContent = sentence;
  document.getElementById("stop").hidden = true;
  for (const place of box.querySelectorAll("div[data-search]")) place.remove();
}

const AT_ONCE = 2; // so that one slow answer does not hold up the others

async function search() {
  const places = [...box.querySelectorAll("[data-search]")];
  const total = places.length;
  const waiting = [...places];
  let done = 0;
  async function askInTurn() {
    for (let place = waiting.shift(); place; place = waiting.shift()) {
      const answer = await fetch(place.dataset.search, { signal: stopping.signal });
      if (!answer.ok) throw new Error(String(answer.status));
      show(place, await answer.text());
      done += 1;
      document.getElementById("progress").textContent = `Searching: ${done} of ${total} done.`;
    }
  }
  await Promise.all(Array.from({ length: AT_ONCE }, askInTurn));
  return finish(`All ${total} searched.`);
}

if (box) {
  document.getElementById("stop").addEventListener("click", () => stopping.abort());
  box.scrollIntoView({ block: "start" });
  search().catch((error) => {
    const stopped = error.name === "AbortError";
    finish(stopped ? "Stopped; what was found stays." : "The search broke off; propose again.");
  });
}
