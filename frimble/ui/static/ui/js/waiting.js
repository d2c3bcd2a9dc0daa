/* A page that waits for work behind it: how far that is, and the result by itself. */
"use strict";
document.addEventListener("alpine:init", () => {
  const OFTEN_MS = 500;
  const SELDOM_MS = 10000;
  Alpine.data("waiting", () => ({
    share: 0,
    pause: OFTEN_MS,
    doing: "",
    init() { this.look(); },
    async look() {
      try {
        const told = await (await fetch(this.$root.dataset.url)).json();
        if (told.ended) return window.location.reload();
        this.share = 100 * told.share;
        this.doing = told.doing || "waiting for its turn";
      } catch {
        this.doing = "The server does not answer; the work goes on.";
      }
      // Asked for ever more seldom, so that a page left open does not keep the server busy.
      this.pause = Math.min(this.pause * 1.1, SELDOM_MS);
      setTimeout(() => this.look(), this.pause);
    },
  }));
});
