// Starts a script for what it serves: at once where it is on the page, and again when a swap brings it anew.

export function whenShown(id, start) {
  let started = null;
  const look = () => {
    const shown = document.getElementById(id);
    if (shown && shown !== started) start(shown);
    started = shown;
  };
  look();
  document.addEventListener("htmx:load", look);
}
