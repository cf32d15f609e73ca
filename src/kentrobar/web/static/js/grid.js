// The reading grid by keyboard: Enter goes on, a paste fills boxes, a device types its reading.
// All numbers beside the boxes come from the server.

import "./mend.js";

const form = document.getElementById("grid");
const rows = [...form.querySelectorAll(".grid-row")];
const boxes = (row) => [...row.querySelectorAll(".cell input.form-control")];
const shownBoxes = (row) => boxes(row).filter((box) => !box.parentElement.hidden);
const summarize = () => form.dispatchEvent(new Event("mended"));

const showNext = (row) => {
  const hidden = boxes(row).find((box) => box.parentElement.hidden);
  if (hidden) hidden.parentElement.hidden = false;
  return hidden;
};

const goOn = (box) => {
  const row = box.closest(".grid-row");
  const all = shownBoxes(row);
  const next = all[all.indexOf(box) + 1];
  if (box.value.trim() && next) return next.focus();
  const later = rows[rows.indexOf(row) + 1];
  if (!later) return document.getElementById("save").focus();
  const boxesThere = shownBoxes(later);
  (boxesThere.find((there) => !there.value) ?? boxesThere[0]).focus();
};

form.addEventListener("keydown", (event) => {
  if (event.key !== "Enter") return;
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault();
    form.requestSubmit(document.getElementById("save"));
  } else if (event.target.matches(".cell input, .axis-box input")) {
    event.preventDefault();
    if (event.target.matches(".axis-box input")) return summarize();
    goOn(event.target);
  }
});

form.addEventListener("paste", (event) => {
  if (!event.target.matches(".cell input")) return;
  const words = event.clipboardData
    .getData("text")
    .split(/[\t\n;]+/)
    .map((w) => w.trim())
    .filter(Boolean);
  if (words.length < 2) return;
  event.preventDefault();
  const row = event.target.closest(".grid-row");
  let box = event.target;
  for (const word of words) {
    if (!box) break;
    box.value = word;
    const all = shownBoxes(row);
    box = all[all.indexOf(box) + 1] ?? showNext(row);
  }
  summarize();
});

form.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (!button) return;
  const { leaveOut, number } = button.dataset;
  if (leaveOut) {
    const mark = Object.assign(document.createElement("input"), {
      type: "hidden",
      name: leaveOut,
      value: number,
    });
    const box = form.elements[leaveOut.replace("_out", `_${number}`)];
    box.classList.add("left-out");
    box.after(mark);
    summarize();
  } else if (button.classList.contains("more")) {
    showNext(button.closest(".grid-row"))?.focus();
  } else if (button.classList.contains("take")) {
    takeReading(button);
  }
});

// A box that is typed anew counts again.
form.addEventListener("input", (event) => {
  const mark = event.target.parentElement?.querySelector("input[type=hidden]");
  if (event.target.matches(".cell input") && mark) {
    mark.remove();
    event.target.classList.remove("left-out");
  }
});

const takeOf = (row) => row.querySelector(".row-head select").selectedOptions[0]?.dataset.take;

const offerTaking = () => {
  for (const row of rows) row.querySelector(".take").hidden = !takeOf(row);
  const mix = form.querySelector(".mix");
  if (mix) mix.hidden = form.elements.build.value !== "mix";
};

async function takeReading(button) {
  const row = button.closest(".grid-row");
  const sentence = row.querySelector(".take-error");
  sentence.textContent = "";
  button.disabled = true;
  button.classList.add("waiting");
  try {
    const answer = await fetch(takeOf(row), {
      method: "POST",
      headers: { "X-CSRFToken": form.elements.csrfmiddlewaretoken.value },
    });
    const sent = await answer.json().catch(() => ({ message: "The application gave no answer; try again." }));
    if (!answer.ok) {
      sentence.textContent = sent.message;
      return;
    }
    const unit = row.querySelector(".cells > .unit");
    const isFirst = boxes(row).every((each) => !each.value.trim());
    if (isFirst && [...unit.options].some((option) => option.value === sent.unit)) unit.value = sent.unit;
    const box = boxes(row).find((each) => !each.value.trim()) ?? boxes(row).at(-1);
    box.parentElement.hidden = false;
    box.value = sent.unit && sent.unit !== unit.value ? `${sent.text} ${sent.unit}` : sent.text;
    summarize();
  } catch {
    sentence.textContent = "There is no connection to Kentrobar; nothing was recorded. Try again.";
  } finally {
    button.disabled = false;
    button.classList.remove("waiting");
    button.focus();
  }
}

// Readings that the server says stand out are marked at their boxes.
const markOutliers = () => {
  for (const row of rows) {
    const places = [...row.querySelectorAll(".odd")].map((odd) => Number(odd.dataset.place));
    for (const [i, box] of boxes(row).entries()) box.classList.toggle("stands-out", places.includes(i + 1));
  }
};

document.addEventListener("htmx:afterSettle", markOutliers);
markOutliers();
// What is typed and not yet saved outlives a reload or a step back, in this tab.
const draft = `draft:${location.pathname}`;
const keepDraft = () => {
  const kept = [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken");
  sessionStorage.setItem(draft, JSON.stringify(kept));
};

const restoreDraft = () => {
  const kept = JSON.parse(sessionStorage.getItem(draft) ?? "[]");
  if (!kept.length || rows.some((row) => boxes(row).some((box) => box.value))) return;
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
  summarize();
};

form.addEventListener("input", keepDraft);
form.addEventListener("change", keepDraft);
form.addEventListener("mended", keepDraft);
form.addEventListener("submit", () => sessionStorage.removeItem(draft));
form.addEventListener("change", offerTaking);
document.addEventListener("DOMContentLoaded", restoreDraft);
if (document.readyState === "complete") restoreDraft();
offerTaking();
