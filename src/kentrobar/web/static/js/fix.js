// A likely slip is put right in one click: a button's order names fields of its form with their texts.

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-fix]");
  if (!button) return;
  const { form } = button;
  const fields = Object.entries(JSON.parse(button.dataset.fix)).map(([name, text]) => {
    const field = form.elements[name];
    if (!field) return null;
    field.value = text;
    if (field instanceof RadioNodeList) return null;
    field.removeAttribute("aria-invalid");
    field.parentElement.querySelector(".error")?.remove();
    return field;
  });
  fields.find((field) => field && field.type !== "select-one")?.focus();
  form.dispatchEvent(new Event("fixed"));
});
