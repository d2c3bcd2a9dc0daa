/* Keys and scanners, on every page. A scanner types fast and ends with Enter or Tab; a hand does not. */
"use strict";
(() => {
  const { scanner } = Frimble;
  let pending = null;

  const typing = (node) => node && (node.isContentEditable || /^(INPUT|SELECT|TEXTAREA)$/.test(node.tagName)) && !/^(radio|checkbox|submit)$/.test(node.type);

  const actions = {
    "/": () => document.getElementById("slate").focus(),
    "?": () => document.dispatchEvent(new CustomEvent("help")),
    n: () => document.querySelector("[data-new]")?.click(),
    l: () => document.querySelector("[data-light-form] button")?.click(),
    t: () => document.querySelector("[data-timer]:not([hidden])")?.click(),
  };

  function press(key) {
    if (!document.body.hasAttribute("data-keys")) return;
    if (actions[key]) return actions[key]();
    const stop = /^[0-9]$/.test(key) && document.querySelector(`[data-key="${key}"]`);
    if (stop) stop.click();
  }

  /* A scanned code fills the open form's screen or slot field; with no such field it goes to the slate. */
  function scanned(code) {
    const field = document.querySelector("main [data-scan]");
    if (field) {
      field.value = code;
      field.dispatchEvent(new Event("input", { bubbles: true }));
      field.focus();
      return;
    }
    const slate = document.getElementById("slate");
    slate.value = code;
    slate.form.requestSubmit();
  }

  /* What the camera read. */
  document.addEventListener("scanned", (event) => scanned(event.detail));

  document.addEventListener("keydown", (event) => {
    /* A key held down is one press: it neither taps a timer twice nor starts one on the page it led to. */
    if (event.repeat) return event.target.closest("[data-timer]") && event.preventDefault();
    if (!document.body.hasAttribute("data-signed-in") || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Escape" && typing(event.target)) return event.target.blur();
    if (typing(event.target) || document.querySelector("dialog[open]")) return;
    const ends = event.key === "Enter" || event.key === "Tab";
    if (event.key.length !== 1 && !ends) return; /* Shift and its kind are no part of a scan */
    const fast = scanner.takes(event);
    if (ends) {
      /* A hand leaves by Tab as well, but not so soon; some scanners wait before Enter. */
      if (scanner.read().length < 3 || (event.key === "Tab" && !fast)) return;
      event.preventDefault();
      return scanned(scanner.taken());
    }
    if (event.key === "/" || event.key === "?") event.preventDefault();
    /* Wait a moment before acting on a key: it may be the first letter of a scan. */
    clearTimeout(pending);
    if (!fast) {
      const key = event.key;
      pending = setTimeout(() => { if (scanner.read() === key) press(key); }, scanner.GAP_MS + 15);
    }
  });
})();
