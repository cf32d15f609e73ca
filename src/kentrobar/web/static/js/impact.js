// The map of hits beside the board: it follows what the hand does there, one request at a time.

const panel = document.getElementById("court");
let wanted = null;
let busy = false;

const shown = () => panel.querySelector(".hit-shown");

async function follow(change) {
  if (!panel.open || !shown()) return;
  wanted = change;
  if (busy) return;
  busy = true;
  while (wanted) {
    const fields = new FormData(panel.querySelector("form"));
    for (const [name, value] of Object.entries(wanted)) fields.set(name, value);
    wanted = null;
    try {
      const answer = await fetch(panel.dataset.follow, {
        method: "POST",
        headers: { "X-CSRFToken": document.querySelector("[name=csrfmiddlewaretoken]").value },
        body: new URLSearchParams(fields),
        redirect: "manual",
      });
      if (answer.status === 200) shown().innerHTML = await answer.text();
    } catch {
      break; // the next move of the hand asks again
    }
  }
  busy = false;
}

document.addEventListener("plan-previewed", (event) => follow(event.detail));
document.addEventListener("plan-saved", () => {
  const form = panel.querySelector("form");
  if (panel.open && form) form.requestSubmit();
});
