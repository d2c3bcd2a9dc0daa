/* The film sheet: density under the pointer, a loupe, keys through the findings. */
"use strict";
document.addEventListener("alpine:init", () => {
  const LOUPE_MM = 6;
  const FIFTIETHS = 50;
  Alpine.data("sheet", () => ({
    here: "Move over the film: place and density show here.",
    loupe: "",
    at: -1,
    cells: null,
    wanted: null,
    wedgePath: "",
    wedgeSaid: "On the film tap the outer corner of the first patch, then the far end of the last. Or type where it lies.",
    corner: null,
    init() {
      const image = new Image();
      image.onload = () => {
        const canvas = document.createElement("canvas");
        canvas.width = image.width;
        canvas.height = image.height;
        const brush = canvas.getContext("2d", { willReadFrequently: true });
        brush.drawImage(image, 0, 0);
        this.cells = { width: image.width, height: image.height, data: brush.getImageData(0, 0, image.width, image.height).data };
      };
      if (this.$root.dataset.picture) image.src = this.$root.dataset.picture;
      this.drawWedge();
      /* Who unfolds a finding's row sees where it lies. */
      document.querySelectorAll("[data-item] summary").forEach((row) => {
        row.addEventListener("click", () => this.select(Number(row.closest("[data-item]").dataset.item), true));
      });
      const asked = window.location.hash.match(/^#finding-(\d+)$/);
      if (asked) this.select(Number(asked[1]) + 1 < this.count() ? Number(asked[1]) + 1 : Number(asked[1]));
      else if (this.count()) this.select(0, true);
    },
    count() { return document.querySelectorAll("[data-item]").length; },
    place(event) {
      const sheet = event.currentTarget.getBoundingClientRect();
      const d = this.$root.dataset;
      return [((event.clientX - sheet.left) / sheet.width) * d.width, ((event.clientY - sheet.top) / sheet.height) * d.height];
    },
    follow(event) { this.show(...this.place(event)); },
    tap(event) {
      this.follow(event);
      if (this.placing()) this.placeWedge(...this.place(event));
    },
    /* The toggle event comes a moment after the opening: the element itself is asked. */
    placing() { return this.$root.querySelector(".again").open; },
    toggleWedge() {
      this.corner = null;
      this.drawWedge();
    },
    wedgeField(name) { return this.$root.querySelector(`.again [name=${name}]`); },
    patches() { return this.wedgeField("densities").value.split("/").filter((d) => d.trim()).length; },
    /* First tap: the corner. Second: the far end, which gives a patch's side by how many there are. */
    placeWedge(x, y) {
      if (!this.patches()) {
        this.wedgeSaid = "Type the densities first: their number says how many patches there are.";
        return this.wedgeField("densities").focus();
      }
      if (this.corner === null) {
        this.corner = [x, y];
        this.wedgeField("x_mm").value = x.toFixed(1);
        this.wedgeField("y_mm").value = y.toFixed(1);
        this.wedgeSaid = "Now the far end of the last patch.";
      } else {
        this.wedgeField("patch_mm").value = Math.max(0, (x - this.corner[0]) / this.patches()).toFixed(2);
        this.corner = null;
        this.wedgeSaid = "See that the squares lie on the patches; tap again, or change the numbers.";
      }
      this.drawWedge();
    },
    drawWedge() {
      const [x, y, side] = ["x_mm", "y_mm", "patch_mm"].map((n) => parseFloat(this.wedgeField(n).value.replace(",", ".")));
      const count = this.placing() && side > 0 ? this.patches() : 0;
      this.wedgePath = Array.from({ length: count }, (_, k) => `M${x + k * side} ${y}h${side}v${side}h${-side}z`).join("");
    },
    show(x, y) {
      this.here = `${this.placeWords(x, y)}: ${this.density(x, y)}`;
      this.point(x, y, LOUPE_MM);
    },
    placeWords(x, y) { return Frimble.written(`x ${x.toFixed(1)} mm, y ${y.toFixed(1)} mm`); },
    density(x, y) {
      const d = this.$root.dataset;
      if (!d.picture) return "artwork, density not known";
      if (!this.cells) return "reading densities";
      const column = Math.floor(x / d.step), row = Math.floor(y / d.step);
      if (column < 0 || row < 0 || column >= this.cells.width || row >= this.cells.height) return "beyond the film";
      const value = this.cells.data[4 * (row * this.cells.width + column)] / FIFTIETHS;
      const words = value >= d.ceiling ? `density at least ${Number(d.ceiling).toFixed(2)}` : `density ${value.toFixed(2)}`;
      return Frimble.written(words);
    },
    /* Only the newest place is asked for: a finger is faster than the line. */
    point(x, y, side) {
      const first = this.wanted === null;
      this.wanted = [x, y, side];
      if (first) setTimeout(() => {
        const [a, b, s] = this.wanted;
        this.wanted = null;
        const d = this.$root.dataset;
        this.loupe = `${d.loupe}?x=${a.toFixed(2)}&y=${b.toFixed(2)}&side=${s.toFixed(1)}&dark=${d.dark}`;
      }, 70);
    },
    select(number, still) {
      const mark = this.$root.querySelector(`[data-finding="${number}"]`);
      if (!mark) return;
      this.at = number;
      this.$root.querySelectorAll(".finding").forEach((m) => m.classList.toggle("chosen", m === mark));
      document.querySelectorAll("[data-item]").forEach((item) => {
        const chosen = Number(item.dataset.item) === number, fold = item.querySelector("details");
        item.classList.toggle("chosen", chosen);
        /* One row each: the chosen one is unfolded, and one that was refused stays so. */
        if (!fold.querySelector(".field-error") && !(chosen && still)) fold.open = chosen;
      });
      const [x, y, width, height] = mark.dataset.box.trim().split(/\s+/).map(Number);
      this.here = this.placeWords(x, y);
      this.point(x + width / 2, y + height / 2, Math.min(36, Math.max(LOUPE_MM, 1.3 * Math.max(width, height))));
      if (!still) document.getElementById(`finding-${number}`)?.scrollIntoView({ block: "nearest" });
    },
    key(event) {
      if (/^(INPUT|SELECT|TEXTAREA)$/.test(event.target.tagName) || event.ctrlKey || event.metaKey || event.altKey) return;
      const form = document.querySelector(`#finding-${this.at} form`);
      if (event.key === "ArrowRight") this.select(Math.min(this.at + 1, this.count() - 1));
      else if (event.key === "ArrowLeft") this.select(Math.max(this.at - 1, 0));
      else if (event.key === "a" && form) form.querySelector("[name=accepted]").click();
      else if (event.key === "d" && form) {
        form.closest("details").open = true;
        form.querySelector("[name=reason]").focus();
      }
      else return;
      event.preventDefault();
    },
  }));
});
