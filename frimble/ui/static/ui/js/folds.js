/* A link to something that lies in a fold opens it; on a phone what is aside is folded until it is wanted. */
"use strict";
(() => {
  const narrow = matchMedia("(max-width: 760px)");
  const show = () => {
    const place = location.hash.length > 1 && document.getElementById(decodeURIComponent(location.hash.slice(1)));
    for (let fold = place && place.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
    if (place) place.scrollIntoView({ block: "nearest" });
  };
  /* What was refused inside stays in sight. */
  const fit = () => document.querySelectorAll("details[data-aside]").forEach((fold) => {
    fold.open = !narrow.matches || Boolean(fold.querySelector(".has-error, .errors"));
  });
  narrow.addEventListener("change", fit);
  fit();
  addEventListener("hashchange", show);
  show();
})();
