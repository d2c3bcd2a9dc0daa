/* The server's time on a device whose own clock may be wrong: as the last page that came from the server told it. */
"use strict";
(() => {
  const STORE = "clock-ahead-ms";
  /* A page may take so long to come; a clock no further off than that is taken as right. */
  const PATIENCE_MS = 10000;
  const { now, keptAt } = document.body.dataset;

  function ahead() {
    const seen = Date.now() - Date.parse(now);
    return Math.abs(seen) > PATIENCE_MS ? seen : 0;
  }

  let aheadMs = 0;
  try {
    if (now && !keptAt) localStorage.setItem(STORE, ahead());
    aheadMs = Number(localStorage.getItem(STORE));
  } catch { /* Nothing is kept here: the page's own clock stands. */ }
  Frimble.now = () => Date.now() - aheadMs;
})();
