/* A drill's photo and a loupe over it, moved by pointer, tap or arrow keys. */
"use strict";
document.addEventListener("alpine:init", () => {
  const KEYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  Alpine.data("loupe", () => ({
    x: 0.1,
    y: 0.5,
    shown: 1,
    init() { this.measure(); },
    /* How many pixels of the page one of the photo takes. */
    measure() { this.shown = this.photo().getBoundingClientRect().width / this.$root.dataset.width; },
    times() { return this.shown * this.$root.dataset.times; },
    photo() { return this.$root.querySelector("svg"); },
    follow(event) {
      const box = this.photo().getBoundingClientRect();
      this.look((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
    },
    step(event) {
      const by = KEYS[event.key];
      if (!by) return;
      event.preventDefault();
      this.look(this.x + 0.01 * by[0], this.y + 0.02 * by[1]);
    },
    look(x, y) {
      this.measure();
      [this.x, this.y] = [x, y].map((part) => Math.min(Math.max(part, 0), 1));
    },
    get lens() {
      const wide = this.$root.dataset.width * this.times(), high = this.$root.dataset.height * this.times();
      return {
        backgroundImage: `url("${this.$root.dataset.url}")`,
        backgroundSize: `${wide}px ${high}px`,
        backgroundPosition: [-this.x * wide, -this.y * high].map((px) => `calc(${px}px + var(--half))`).join(" "),
      };
    },
  }));
});
