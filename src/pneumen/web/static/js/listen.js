// Listening to a take: from a finding, or from any point of its strip; a loop; another take at the same loudness.
(() => {
  "use strict";
  // A spectrum is asked of what is drawn, or of the second one listens to where that is long.
  document.addEventListener("htmx:configRequest", (event) => {
    if (event.target.matches("[data-spectrum]") && audio() && audio().currentTime > 0) event.detail.parameters.at = audio().currentTime.toFixed(3);
  });
  const $ = (query, root = document) => root.querySelector(query);
  const audio = () => $("[data-take-audio]");
  const listenFrom = (second) => { audio().currentTime = Math.max(0, second); audio().play(); };

  document.addEventListener("click", (event) => {
    const point = event.target.closest("[data-listen]");
    if (point) { listenFrom(Number(point.dataset.listen) - 0.5); return; }
    const loop = event.target.closest("[data-loop]");
    if (loop) { setLoop(loop, loop.getAttribute("aria-pressed") !== "true"); return; }
    if (event.target.closest("[data-swap]")) swap();
  });

  // On the strip a press listens from there; drawn along it, it looks at that stretch.
  let drawn = null;
  document.addEventListener("pointerdown", (event) => {
    const strip = event.button === 0 && !event.target.closest(".flag") && event.target.closest("[data-strip]");
    if (strip && audio()) drawn = { strip, x: event.clientX, from: secondAt(strip, event.clientX) };
  });
  document.addEventListener("pointermove", (event) => { if (drawn) mark(drawn, event.clientX); });
  document.addEventListener("pointercancel", () => { drawn = null; });
  document.addEventListener("pointerup", (event) => {
    if (!drawn) return;
    const { strip, x, from } = drawn, to = secondAt(strip, event.clientX);
    drawn = null;
    if (Math.abs(event.clientX - x) < 8) listenFrom(from);
    else htmx.ajax("GET", `${strip.dataset.strip}?from=${Math.min(from, to).toFixed(3)}&to=${Math.max(from, to).toFixed(3)}`, { target: "#strip", swap: "outerHTML" });
  });
  const mark = ({ strip, x }, clientX) => {
    const rect = $("[data-drawn]", strip), box = strip.getBoundingClientRect(), scale = strip.viewBox.baseVal.width / box.width;
    rect.setAttribute("x", (Math.min(x, clientX) - box.left) * scale);
    rect.setAttribute("width", Math.abs(clientX - x) * scale);
    rect.setAttribute("visibility", "visible");
  };

  // A loop plays what is drawn over and over.
  const setLoop = (button, on) => {
    button.setAttribute("aria-pressed", on);
    button.classList.toggle("is-on", on);
    if (on && audio()) { audio().currentTime = Number(button.dataset.from); audio().play(); }
  };

  // Another take at one loudness: the same second of it, by a press.
  let own = "";
  const swap = () => {
    const player = audio(), chosen = $("[data-compare]").selectedOptions[0], button = $("[data-swap]");
    if (!chosen.value) return;
    const there = button.dataset.swap !== "there", now = player.currentTime, playing = !player.paused;
    button.dataset.swap = there ? "there" : "";
    button.textContent = there ? "Hear this take" : `Hear ${chosen.textContent.trim()}`;
    player.src = there ? chosen.dataset.src : own;
    player.volume = Number(there ? chosen.dataset.there : chosen.dataset.here);
    player.currentTime = now;
    if (playing) player.play();
  };
  document.addEventListener("change", (event) => {
    if (!event.target.matches("[data-compare]")) return;
    const button = $("[data-swap]"), chosen = event.target.selectedOptions[0], player = audio();
    own = own || player.getAttribute("src");
    if (button.dataset.swap === "there") { player.src = own; button.dataset.swap = ""; }
    button.hidden = !chosen.value;
    button.textContent = `Hear ${chosen.textContent.trim()}`;
    player.volume = chosen.value ? Number(chosen.dataset.here) : 1;
  });
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || !("shortcuts" in document.body.dataset)) return;
    if (event.target.closest("input, select, textarea, audio")) return;
    const step = { "+": "closer", "-": "wider" }[event.key];
    if (step && $(`[data-stretch="${step}"]`)) $(`[data-stretch="${step}"]`).click();
    else if (event.key === "c" && $("[data-swap]") && !$("[data-swap]").hidden) swap();
    else if (event.key === "l" && $("[data-loop]")) $("[data-loop]").click();
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
    const loop = $('[data-loop][aria-pressed="true"]');
    if (loop && event.target.currentTime >= Number(loop.dataset.to)) event.target.currentTime = Number(loop.dataset.from);
    for (const strip of document.querySelectorAll("[data-strip]")) {
      const head = $("[data-playhead]", strip), now = event.target.currentTime, from = Number(strip.dataset.from);
      const x = Number(strip.dataset.left) + (now - from) * Number(strip.dataset.pxPerS);
      head.setAttribute("x1", x); head.setAttribute("x2", x);
      head.setAttribute("visibility", now >= from && now <= Number(strip.dataset.to) ? "visible" : "hidden");
    }
  }, true);
})();
