/* Arrow keys through what a search found; Enter opens as any link does. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("results", () => ({
    init() {
      document.addEventListener("keydown", (event) => {
        if (/^(INPUT|SELECT|TEXTAREA)$/.test(event.target.tagName) || event.ctrlKey || event.metaKey || event.altKey) return;
        const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
        if (!step) return;
        const links = [...this.$root.querySelectorAll("[data-result]")];
        const at = links.indexOf(document.activeElement);
        const next = links[Math.min(links.length - 1, Math.max(0, at + step))];
        if (!next) return;
        event.preventDefault();
        next.focus();
      });
    },
  }));
});
