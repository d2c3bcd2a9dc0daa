/* Pages follow what is recorded elsewhere: the line, the timers, and a page that only shows. A page with a form that was
   touched stays as it is, so that nothing typed is lost. */
"use strict";
(() => {
  const EVERY_MS = 1500;
  const { changes } = document.body.dataset;
  let version = document.body.dataset.version;
  if (!changes) return;

  const typing = () => document.activeElement?.matches("input:not([type=radio]):not([type=checkbox]), textarea, select");
  let touched = false;
  document.addEventListener("input", (event) => { if (event.target.closest("main")) touched = true; });

  /* Folds that were opened stay open. */
  const openFolds = () => [...document.querySelectorAll("main details")].map((fold) => fold.open);

  function take(page, selector) {
    const fresh = page.querySelector(selector), old = document.querySelector(selector);
    if (fresh && old && fresh.innerHTML !== old.innerHTML) old.replaceWith(document.adoptNode(fresh));
  }

  async function renew() {
    const answer = await fetch(location.href, { headers: { "X-Live": "1" } });
    if (!answer.ok || answer.redirected) return false;
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const scroll = document.querySelector(".line")?.scrollTop;
    take(page, ".line");
    if (scroll) document.querySelector(".line").scrollTop = scroll;
    take(page, ".timers");
    if (document.querySelector("main").hasAttribute("data-live") && !touched && !typing()) {
      const folds = openFolds(), focused = document.activeElement?.getAttribute?.("href");
      take(page, "main");
      document.querySelectorAll("main details").forEach((fold, n) => { if (folds[n] !== undefined) fold.open = folds[n]; });
      if (focused) document.querySelector(`main [href="${CSS.escape(focused)}"]`)?.focus({ preventScroll: true });
    }
    /* What draws itself by a script looks after itself. */
    document.dispatchEvent(new CustomEvent("changed"));
    return true;
  }

  async function look() {
    try {
      if (!document.hidden) {
        const answer = await fetch(changes, { cache: "no-store" });
        const now = answer.ok && !answer.redirected ? await answer.text() : version;
        /* Work that goes on beside the page changes what it shows without a record. */
        const busy = document.querySelector("main [data-busy]");
        if ((now !== version || busy) && await renew()) version = now;
      }
    } catch { /* No network: the next look tries again. */ }
    setTimeout(look, EVERY_MS);
  }
  setTimeout(look, EVERY_MS);
})();
