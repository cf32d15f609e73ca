// Keeps the cards of a search in order as their answers come: lightest first, the same plan once.

const answers = document.getElementById("answers");

/** Where a card stands: by what its answer says, those that are still searched for last. */
const orderOf = (card) => ("order" in card.dataset ? Number(card.dataset.order) : Number.MAX_VALUE);

function arrange() {
  const cards = [...answers.children];
  const seen = new Set();
  for (const [i, card] of cards.toSorted((a, b) => orderOf(a) - orderOf(b)).entries()) {
    if (answers.children[i] !== card) answers.insertBefore(card, answers.children[i]);
    const same = card.dataset.same;
    if (same) card.hidden = seen.has(same);
    if (same) seen.add(same);
  }
  tell(cards.filter((card) => "searching" in card.dataset).length);
}

function tell(waiting) {
  const total = Number(answers.dataset.total);
  document.getElementById("progress").textContent = waiting
    ? `Searching: ${total - waiting} of ${total} done.`
    : `All ${total} searched.`;
  const stop = document.getElementById("stop");
  if (stop && !waiting) stop.hidden = true;
}

if (answers) document.body.addEventListener("htmx:afterSettle", arrange);
