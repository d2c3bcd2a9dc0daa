/* Minutes until a moment, told anew while the page stands open. */
"use strict";
(() => {
  const words = (minutes) => {
    if (minutes < 1) return "under 1 min";
    const hours = Math.floor(minutes / 60), rest = Math.round(minutes % 60);
    return hours ? `${hours} h ${rest} min` : `${Math.round(minutes)} min`;
  };
  const tell = () => document.querySelectorAll("[data-until]").forEach((place) => {
    const left = (new Date(place.dataset.until) - Frimble.now()) / 60000;
    place.textContent = left > 0 ? words(left) : "now, by the clock: feel it";
  });
  setInterval(tell, 15000);
})();
