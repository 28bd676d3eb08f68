// Listening to a take: from a finding, or from any point of its strip; a loop; another take at the same loudness.
(() => {
  "use strict";
  const $ = (query, root = document) => root.querySelector(query);
  const audio = () => $("[data-take-audio]");
  const listenFrom = (second) => { audio().currentTime = Math.max(0, second); audio().play(); };

  document.addEventListener("click", (event) => {
    const point = event.target.closest("[data-listen]");
    if (point) { listenFrom(Number(point.dataset.listen) - 0.5); return; }
    const strip = event.target.closest("[data-strip]");
    if (strip && audio()) listenFrom(secondAt(strip, event.clientX));
  });
  const secondAt = (strip, clientX) => {
    const box = strip.getBoundingClientRect();
    const x = (clientX - box.left) * strip.viewBox.baseVal.width / box.width;
    return Number(strip.dataset.from) + (x - Number(strip.dataset.left)) / Number(strip.dataset.pxPerS);
  };
  document.addEventListener("keydown", (event) => {
    const point = event.target.closest && event.target.closest(".flag[data-listen]");
    if (point && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); listenFrom(Number(point.dataset.listen) - 0.5); }
  });
  document.addEventListener("timeupdate", (event) => {
    if (!event.target.matches("[data-take-audio]")) return;
    for (const strip of document.querySelectorAll("[data-strip]")) {
      const head = $("[data-playhead]", strip), now = event.target.currentTime, from = Number(strip.dataset.from);
      const x = Number(strip.dataset.left) + (now - from) * Number(strip.dataset.pxPerS);
      head.setAttribute("x1", x); head.setAttribute("x2", x);
      head.setAttribute("visibility", now >= from && now <= Number(strip.dataset.to) ? "visible" : "hidden");
    }
  }, true);
})();
