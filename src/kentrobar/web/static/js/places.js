// The places that plans may use: often wanted ones at a click, every tick remembered with the frame.

const box = document.getElementById("places");
const WAIT_MS = 400; // several ticks in a row are remembered as one
let waiting = null;

async function remember() {
  const sent = new FormData();
  for (const field of box.querySelectorAll("input, select")) {
    if (field.type !== "checkbox" || field.checked) sent.append(field.name, field.value);
  }
  sent.append("csrfmiddlewaretoken", box.dataset.token);
  const told = box.querySelector("[data-remembered]");
  try {
    const answer = await fetch(box.dataset.remember, { method: "POST", body: sent });
    told.textContent = answer.ok ? await answer.text() : "Not saved. Tick it again.";
  } catch {
    told.textContent = "No connection. Your choice counts for this search only.";
  }
}

function choose({ sites, hoop }) {
  const wanted = new Set(sites.split(" "));
  for (const tick of box.querySelectorAll("input[type=checkbox]")) tick.checked = wanted.has(tick.value);
  const faces = box.querySelector("select");
  if (faces) faces.value = hoop;
}

box?.addEventListener("click", (event) => {
  const preset = event.target.closest("[data-sites]");
  if (!preset) return;
  choose(preset.dataset);
  remember();
});
box?.addEventListener("change", () => {
  clearTimeout(waiting);
  waiting = setTimeout(remember, WAIT_MS);
});
