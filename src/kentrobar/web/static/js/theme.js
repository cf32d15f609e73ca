// Follows the device's light or dark theme before the page is painted, where the person chose so.
const dark = window.matchMedia("(prefers-color-scheme: dark)");
const follow = () => {
  if (document.documentElement.hasAttribute("data-auto-theme")) {
    document.documentElement.dataset.bsTheme = dark.matches ? "dark" : "light";
  }
};
follow();
dark.addEventListener("change", follow);
