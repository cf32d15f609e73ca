// After a form that could not be taken: the first slip is where the hand goes on.

const SLIPS = "[aria-invalid=true], .has-error input, .has-error select, .has-error textarea";

const first = document.querySelector(`main :is(${SLIPS})`);
if (first) {
  for (let box = first.closest("details"); box; box = box.parentElement.closest("details")) box.open = true;
  first.focus();
  first.scrollIntoView({ block: "center" });
}
