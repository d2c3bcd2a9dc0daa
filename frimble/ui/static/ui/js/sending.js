/* A form is sent once, however often its button is pressed until the answer is there. */
"use strict";
(() => {
  const GIVES_UP_MS = 15000;

  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (event.defaultPrevented || form.getAttribute("method") !== "post") return;
    if (form.hasAttribute("aria-busy")) return event.preventDefault();
    form.setAttribute("aria-busy", "true");
    /* Whoever stopped the page from loading may send it again. */
    setTimeout(() => form.removeAttribute("aria-busy"), GIVES_UP_MS);
  });

  /* A page that comes back as it was left. */
  window.addEventListener("pageshow", () => {
    for (const form of document.querySelectorAll("form[aria-busy]")) form.removeAttribute("aria-busy");
  });
})();
