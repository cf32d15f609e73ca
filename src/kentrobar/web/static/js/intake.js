// The table of frames by keyboard and from a spreadsheet; a known model brings its outline along.

import "./fix.js";

const form = document.getElementById("intake");
const body = document.querySelector("#rows tbody");
const moreRows = document.getElementById("more-rows");
const frames = () => [...body.rows].filter((row) => row.querySelector("input"));
const cells = (row) => [...row.querySelectorAll("input")];

const addRow = () => {
  const all = frames();
  if (all.length >= Number(moreRows.dataset.most)) return null;
  const row = all.at(-1).cloneNode(true);
  for (const input of cells(row)) {
    const number = all.length + 1;
    input.name = input.name.replace(/\d+$/, number);
    input.setAttribute("aria-label", input.getAttribute("aria-label").replace(/\d+$/, number));
    input.removeAttribute("aria-invalid");
    input.value = "";
    input.parentElement.querySelector(".error")?.remove();
  }
  body.append(row);
  return row;
};

moreRows.addEventListener("click", () => {
  const row = addRow();
  if (row) cells(row)[0].focus();
});

body.addEventListener("keydown", (event) => {
  if (event.key !== "Enter" || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  const row = event.target.closest("tr");
  const column = cells(row).indexOf(event.target);
  const all = frames();
  const below = all[all.indexOf(row) + 1] ?? addRow();
  if (below) cells(below)[column].focus();
});

form.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
    event.preventDefault();
    form.requestSubmit();
  }
});

body.addEventListener("paste", (event) => {
  const lines = event.clipboardData
    .getData("text")
    .replace(/\r/g, "")
    .split("\n")
    .filter((line) => line.trim());
  if (!event.target.matches("input") || (lines.length < 2 && !lines[0]?.includes("\t"))) return;
  event.preventDefault();
  const all = frames();
  const start = event.target.closest("tr");
  const column = cells(start).indexOf(event.target);
  let at = all.indexOf(start);
  for (const line of lines) {
    const row = frames()[at] ?? addRow();
    if (!row) break;
    line.split("\t").forEach((text, i) => {
      const cell = cells(row)[column + i];
      if (cell) cell.value = text.trim();
    });
    at += 1;
  }
});

const model = document.getElementById("id_model_name");
const known = () =>
  [...document.querySelectorAll("#models option")].map((option) => option.value.toLowerCase());

model.addEventListener("change", async () => {
  if (!known().includes(model.value.trim().toLowerCase())) return;
  const address = `${model.dataset.fetch}?model_name=${encodeURIComponent(model.value.trim())}`;
  const answer = await fetch(address).catch(() => null);
  if (!answer?.ok) return;
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  document.getElementById("of-model").replaceWith(page.getElementById("of-model"));
});
