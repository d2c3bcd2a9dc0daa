/* The button of a timer: a double tap, on it or on the page that led to it, is one tap. */
"use strict";
(() => {
  const SETTLES_MS = 300;

  function settle(button) {
    button.setAttribute("aria-disabled", "true");
    setTimeout(() => button.removeAttribute("aria-disabled"), SETTLES_MS);
  }

  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-timer]");
    if (!button) return;
    if (button.getAttribute("aria-disabled") !== "true") return settle(button);
    event.preventDefault();
    event.stopImmediatePropagation();
  }, true);

  document.querySelectorAll("[data-timer]").forEach(settle);
})();
