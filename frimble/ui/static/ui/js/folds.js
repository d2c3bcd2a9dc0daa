/* A link to something that lies in a fold opens it. */
"use strict";
(() => {
  const show = () => {
    const place = location.hash.length > 1 && document.getElementById(decodeURIComponent(location.hash.slice(1)));
    for (let fold = place && place.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
    if (place) place.scrollIntoView({ block: "nearest" });
  };
  addEventListener("hashchange", show);
  show();
})();
