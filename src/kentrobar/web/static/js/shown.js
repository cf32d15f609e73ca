// Starts a script for each part of a page that it serves: at once, and when a swap brings another.

export function whenShown(selector, start) {
  const started = new WeakSet();
  const look = () => {
    for (const shown of document.querySelectorAll(selector)) {
      if (started.has(shown)) continue;
      started.add(shown);
      start(shown);
    }
  };
  look();
  document.addEventListener("htmx:load", look);
}
