// The menu changes the language of the page where it stands. Without this script its links lead to the page in that language.

import { texts } from "/texts/crow-fly.js";

const t = texts();
const menu = document.querySelector(".languages");

menu.addEventListener("click", (event) => {
  const link = event.target.closest("a");
  // What opens another window is the browser's.
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  t.change(link.hreflang).catch(() => location.assign(link.href));
});

document.addEventListener("localechange", () => {
  for (const link of menu.querySelectorAll("a")) {
    if (link.hreflang === t.locale) link.setAttribute("aria-current", "true");
    else link.removeAttribute("aria-current");
    // The name of this language in the language of before.
    link.removeAttribute("title");
  }
});

document.documentElement.dataset.awake = "true";
