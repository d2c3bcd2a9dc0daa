/* A link to one setting opens the fold it lies in. */
"use strict";
(() => {
  const show = () => {
    const row = location.hash.length > 1 && document.getElementById(decodeURIComponent(location.hash.slice(1)));
    const fold = row && row.closest("details.group");
    if (!fold) return;
    fold.open = true;
    row.scrollIntoView({ block: "center" });
  };
  addEventListener("hashchange", show);
  show();
})();
