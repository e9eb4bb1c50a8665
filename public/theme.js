// Before the first paint: the colours chosen on this device, otherwise those of the system.
const chosen = localStorage.getItem("theme");
document.documentElement.dataset.theme =
  chosen ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
