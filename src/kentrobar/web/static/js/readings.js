// The boxes of readings, the same on every page: Enter goes on, a paste fills them, a device types into them.

import "./fix.js";
import { whenShown } from "./shown.js";

const rowsOf = (form) => [...form.querySelectorAll(".grid-row")];
export const boxesOf = (row) => [...row.querySelectorAll(".cell input.form-control")];
const shownBoxes = (row) => boxesOf(row).filter((box) => !box.parentElement.hidden);
const changed = (form) => form.dispatchEvent(new Event("fixed"));

const showNext = (row) => {
  const hidden = boxesOf(row).find((box) => box.parentElement.hidden);
  if (hidden) hidden.parentElement.hidden = false;
  return hidden;
};

const goOn = (form, box) => {
  const row = box.closest(".grid-row");
  const all = shownBoxes(row);
  const next = all[all.indexOf(box) + 1];
  if (box.value.trim() && next) return next.focus();
  const rows = rowsOf(form);
  const later = rows[rows.indexOf(row) + 1];
  if (!later) return form.querySelector("[data-save]").focus();
  const boxesThere = shownBoxes(later);
  (boxesThere.find((there) => !there.value) ?? boxesThere[0]).focus();
};

const leaveOut = (form, button) => {
  const { leaveOut: name, number } = button.dataset;
  const mark = Object.assign(document.createElement("input"), { type: "hidden", name, value: number });
  const box = form.elements[name.replace("_out", `_${number}`)];
  box.classList.add("left-out");
  box.after(mark);
  changed(form);
};

const takeOf = (row) => row.querySelector(".row-head select").selectedOptions[0]?.dataset.take;

const typeInto = (row, sent) => {
  const unit = row.querySelector(".cells > .unit");
  const isFirst = boxesOf(row).every((each) => !each.value.trim());
  if (isFirst && [...unit.options].some((option) => option.value === sent.unit)) unit.value = sent.unit;
  const box = boxesOf(row).find((each) => !each.value.trim()) ?? boxesOf(row).at(-1);
  box.parentElement.hidden = false;
  box.value = sent.unit && sent.unit !== unit.value ? `${sent.text} ${sent.unit}` : sent.text;
};

async function takeReading(form, button) {
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
    const sent = await answer.json().catch(() => ({ message: "Kentrobar did not answer. Try again." }));
    if (!answer.ok) {
      sentence.textContent = sent.message;
      return;
    }
    typeInto(row, sent);
    changed(form);
  } catch {
    sentence.textContent = "No connection. Nothing was recorded; try again.";
  } finally {
    button.disabled = false;
    button.classList.remove("waiting");
    button.focus();
  }
}

/** Offer what a device sends wherever the chosen instrument has a cable. */
export const offerTaking = (form) => {
  for (const row of rowsOf(form)) row.querySelector(".take").hidden = !takeOf(row);
};

const paste = (form, event) => {
  const words = event.clipboardData
    .getData("text")
    .split(/[\t\n;]+/)
    .map((word) => word.trim())
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
  changed(form);
};

/** Listen to the boxes of a form, also to those that replace them. */
const listen = (form) => {
  form.addEventListener("keydown", (event) => {
    if (event.key !== "Enter") return;
    if (event.ctrlKey || event.metaKey) {
      event.preventDefault();
      form.requestSubmit(form.querySelector("[data-save]"));
    } else if (event.target.matches(".cell input, .axis-box input, .spread")) {
      event.preventDefault();
      if (event.target.matches(".cell input")) goOn(form, event.target);
      else changed(form);
    }
  });
  form.addEventListener("paste", (event) => {
    if (event.target.matches(".cell input")) paste(form, event);
  });
  form.addEventListener("click", (event) => {
    const button = event.target.closest("button");
    if (!button) return;
    if (button.dataset.leaveOut) leaveOut(form, button);
    else if (button.classList.contains("more")) showNext(button.closest(".grid-row"))?.focus();
    else if (button.classList.contains("take")) takeReading(form, button);
  });
  // A box that is typed anew counts again.
  form.addEventListener("input", (event) => {
    const mark = event.target.parentElement?.querySelector("input[type=hidden]");
    if (event.target.matches(".cell input") && mark) {
      mark.remove();
      event.target.classList.remove("left-out");
    }
  });
  form.addEventListener("change", () => offerTaking(form));
  offerTaking(form);
};

whenShown("form:has([data-readings])", listen);
