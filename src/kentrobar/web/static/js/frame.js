// On a frame's page the key M opens the reading grid.
document.addEventListener("keydown", (event) => {
  if (event.key.toLowerCase() !== "m" || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.matches("input, select, textarea")) return;
  document.getElementById("measure").click();
});
