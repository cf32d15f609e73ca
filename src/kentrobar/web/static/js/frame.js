// On a frame's pages the key M leads to its readings.
document.addEventListener("keydown", (event) => {
  if (event.key.toLowerCase() !== "m" || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.matches("input, select, textarea")) return;
  document.getElementById("tab-measure").click();
});
