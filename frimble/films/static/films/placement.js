/* Images on a screen, moved by hand or arrow keys: the place goes into its row, and the core draws the plan anew. */
"use strict";
document.addEventListener("alpine:init", () => {
  const KEYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  Alpine.data("placement", () => ({
    ask: null,
    held: null,
    address: location.search,
    init() { this.ask = Frimble.asker(); },
    /* The field of an image's row: the rows left empty have no image. */
    field(image, name) {
      const rows = [...this.$refs.form.querySelectorAll(".placed-image")].filter((row) =>
        row.querySelector("[name$=-record]").value || row.querySelector("[name$=-width]").value.trim());
      return rows[image]?.querySelector(`[name$=-${name}]`);
    },
    /* mm on the frame of a place on the screen. */
    at(event) {
      const svg = this.$refs.plan.querySelector("svg.placement");
      const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
      return [point.x, point.y];
    },
    /* Where an image's middle lies now, from the frame's middle. */
    middle(group) {
      const svg = group.ownerSVGElement.viewBox.baseVal, box = group.querySelector("rect");
      const of = (name) => Number(box.getAttribute(name));
      return [of("x") + of("width") / 2 - svg.width / 2, of("y") + of("height") / 2 - svg.height / 2];
    },
    grab(event) {
      const group = event.target.closest?.("[data-image]");
      if (!group) return;
      event.preventDefault();
      group.focus();
      group.setPointerCapture(event.pointerId);
      this.held = { group, from: this.at(event), middle: this.middle(group), moved: [0, 0] };
    },
    drag(event) {
      if (!this.held) return;
      const [x, y] = this.at(event), [a, b] = this.held.from;
      this.held.moved = [x - a, y - b];
      this.held.group.setAttribute("transform", `translate(${x - a} ${y - b})`);
    },
    drop() {
      if (!this.held) return;
      const { group, middle, moved } = this.held;
      this.held = null;
      if (Math.hypot(...moved) >= 0.5) this.put(group.dataset.image, middle[0] + moved[0], middle[1] + moved[1]);
    },
    nudge(event) {
      const group = event.target.closest?.("[data-image]");
      if (!group) return;
      const step = KEYS[event.key], image = group.dataset.image;
      if (step) {
        event.preventDefault();
        const far = event.shiftKey ? 10 : 1, [x, y] = this.middle(group);
        this.put(image, x + step[0] * far, y + step[1] * far);
      } else if (event.key === "r") {
        const turned = this.field(image, "turned");
        turned.checked = !turned.checked;
        this.put(image, ...this.middle(group));
      }
    },
    async put(image, x, y) {
      this.field(image, "x").value = x.toFixed(0);
      this.field(image, "y").value = y.toFixed(0);
      await this.look();
      this.$refs.plan.querySelector(`[data-image="${image}"]`)?.focus();
    },
    async look() {
      const asked = new URLSearchParams(new FormData(this.$refs.form));
      this.address = `?${asked}`;
      const plan = await this.ask(`${location.pathname}?${asked}`, { headers: { "X-Part": "plan" } });
      if (plan !== null) this.$refs.plan.innerHTML = plan;
    },
    add() {
      const count = this.$refs.form.querySelector("[name$=TOTAL_FORMS]"), number = Number(count.value);
      const row = this.$refs.empty.innerHTML.replaceAll("__prefix__", number);
      this.$refs.rows.insertAdjacentHTML("beforeend", row);
      count.value = number + 1;
      this.$refs.rows.lastElementChild.querySelector("select").focus();
    },
  }));
});
