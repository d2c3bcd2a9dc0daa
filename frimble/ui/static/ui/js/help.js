/* Help on any page: its topic of the handbook, and what the words on it mean. Fetched when it is first opened. */
"use strict";
(() => {
  const dialog = document.getElementById("keys"), { help } = document.body.dataset;
  if (!dialog || !help) return;
  const part = dialog.querySelector("[data-help-here]");

  /* Whole words, with a plural s; capitals count only where the term has them (Dmax). */
  const stands = (term, text) => new RegExp(`(^|[^\\p{L}])${term}s?($|[^\\p{L}])`, "iu").test(text);

  async function fill() {
    try {
      const answer = await fetch(`${help}?page=${encodeURIComponent(location.pathname)}`);
      if (answer.ok && !answer.redirected) part.innerHTML = await answer.text();
    } catch { part.textContent = "Without a network the keys alone are here."; }
  }

  function mark() {
    const text = document.querySelector("main").innerText;
    const shown = [...part.querySelectorAll("[data-term]")].filter((line) => {
      line.hidden = !stands(line.dataset.term, text);
      return !line.hidden;
    });
    const title = part.querySelector("[data-terms-title]");
    if (title) title.hidden = !shown.length;
  }

  async function open() {
    dialog.showModal();
    if (!part.children.length) await fill();
    mark();
    dialog.scrollTop = 0;
  }

  document.querySelector("[data-open-help]")?.addEventListener("click", open);
  document.addEventListener("help", open);
})();
