// The reading grid: what stands out is marked, and what is typed outlives a reload.
// All numbers beside the boxes come from the server.

import { boxesOf, offerTaking } from "./readings.js";
import { whenShown } from "./shown.js";

let form = null;
let rows = [];
const summarize = () => form.dispatchEvent(new Event("fixed"));

const showMix = () => {
  const mix = form.querySelector(".mix");
  if (mix) mix.hidden = form.elements.build.value !== "mix";
};

// Readings that the server says stand out are marked at their boxes.
const markOutliers = () => {
  for (const row of rows) {
    const places = [...row.querySelectorAll(".odd")].map((odd) => Number(odd.dataset.place));
    for (const [i, box] of boxesOf(row).entries()) box.classList.toggle("stands-out", places.includes(i + 1));
  }
};

document.addEventListener("htmx:afterSettle", markOutliers);

// What is typed and not yet saved outlives a reload or a step back, in this tab.
const draft = () => `draft:${location.pathname}`;
const keepDraft = () => {
  const kept = [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken");
  sessionStorage.setItem(draft(), JSON.stringify(kept));
};

const restoreDraft = () => {
  const kept = JSON.parse(sessionStorage.getItem(draft()) ?? "[]");
  if (!kept.length || rows.some((row) => boxesOf(row).some((box) => box.value))) return;
  for (const [name, value] of kept) {
    const field = form.elements[name];
    if (field instanceof RadioNodeList || field?.type === "checkbox") {
      const choice = [...form.querySelectorAll(`[name="${name}"]`)].find((each) => each.value === value);
      if (choice) choice.checked = true;
    } else if (field && field.type !== "hidden") {
      field.value = value;
      if (value) field.closest(".cell")?.removeAttribute("hidden");
    }
  }
  offerTaking(form);
  summarize();
};

whenShown("#grid", (shown) => {
  form = shown;
  rows = [...form.querySelectorAll(".grid-row")];
  for (const typed of ["input", "change", "fixed"]) form.addEventListener(typed, keepDraft);
  form.addEventListener("submit", () => sessionStorage.removeItem(draft()));
  form.addEventListener("change", showMix);
  if (document.readyState === "complete") restoreDraft();
  else document.addEventListener("DOMContentLoaded", restoreDraft);
  markOutliers();
  showMix();
});
