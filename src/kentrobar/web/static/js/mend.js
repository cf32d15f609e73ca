// A likely slip is put right in one click: the mend's texts and units go into their fields.
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-mend]");
  if (!button) return;
  for (const [name, [text, unit]] of Object.entries(JSON.parse(button.dataset.mend))) {
    const field = document.querySelector(`[name=${name}_0]`);
    if (!field) continue;
    field.value = text;
    document.querySelector(`[name=${name}_1]`).value = unit;
    field.focus();
  }
});
