// The lyric sheet: one line at a time by keys, heard from its takes, two of them blind at one loudness.
(() => {
  "use strict";
  // The balance: before and after at one loudness.
  const level = () => { for (const one of document.querySelectorAll("audio[data-volume]")) one.volume = Number(one.dataset.volume); };
  level();
  document.addEventListener("htmx:afterSettle", level);
  document.addEventListener("play", (event) => { for (const one of document.querySelectorAll("audio[data-volume]")) if (one !== event.target) one.pause(); }, true);
  if (!document.querySelector("#comp")) return;
  const $ = (query, root = document) => root.querySelector(query);
  const all = (query, root = document) => [...root.querySelectorAll(query)];
  const lines = () => all(".lyric-line");
  const takesOf = (line) => all(".lyric-take", line);
  const LEAD_S = 1, TAIL_S = 0.3;
  let at = null, cursor = {}, opening = 0;

  const here = () => lines().find((line) => line.dataset.line === at) || lines()[0];
  const cursorOf = (line) => {
    const marks = takesOf(line);
    return marks.find((one) => one.dataset.take === (cursor[line.dataset.line] || line.dataset.chosen)) || marks[0];
  };
  const show = () => {
    for (const one of all(".lyric-take.is-here")) one.classList.remove("is-here");
    const line = here(), mark = line && cursorOf(line);
    if (mark) mark.classList.add("is-here");
  };
  const go = (line, focus = true) => {
    if (!line) return;
    for (const one of lines()) one.tabIndex = one === line ? 0 : -1;
    at = line.dataset.line;
    if (focus) line.focus({ preventScroll: false });
    show();
    open(line);
  };
  const open = (line) => {
    clearTimeout(opening);
    opening = setTimeout(() => {
      const shown = $("[data-detail]");
      if (!shown || shown.dataset.detail !== at) htmx.ajax("GET", $("[data-open]", line).getAttribute("href"), { target: "#line-detail", swap: "innerHTML" });
    }, 120);
  };
  const step = (by) => {
    const rows = lines(), place = rows.indexOf(here());
    go(rows[Math.min(rows.length - 1, Math.max(0, place + by))]);
  };
  const turn = (by) => {
    const line = here(), marks = takesOf(line);
    if (!marks.length) return;
    const place = marks.indexOf(cursorOf(line));
    cursor[at] = marks[Math.min(marks.length - 1, Math.max(0, place + by))].dataset.take;
    show();
  };

  // Hearing: the phrase with a second before it, from the take's own file.
  let until = 0, ended = null;
  const player = () => $("[data-comp-audio]");
  const sources = () => JSON.parse($("#comp-takes").textContent);
  const play = (mark, volume = 1, lead = LEAD_S) => new Promise((done) => {
    const audio = player(), source = sources()[mark.dataset.take];
    stop();
    if (audio.getAttribute("src") !== source) audio.src = source;
    const from = Math.max(0, Number(mark.dataset.at) - lead);
    until = Number(mark.dataset.at) + Number(mark.closest(".lyric-line").dataset.length) + TAIL_S;
    ended = done;
    audio.volume = volume;
    const begin = () => { audio.currentTime = from; audio.play().catch(() => stop()); };
    if (audio.readyState) begin(); else { audio.addEventListener("loadedmetadata", begin, { once: true }); audio.load(); }
  });
  const stop = () => {
    player().pause();
    if (ended) { const told = ended; ended = null; told(); }
  };
  document.addEventListener("timeupdate", (event) => { if (event.target === player() && event.target.currentTime >= until) stop(); }, true);
  document.addEventListener("ended", (event) => {
    if (event.target === player()) stop();
    if (event.target.matches("[data-track-audio]")) htmx.ajax("POST", event.target.dataset.listened, { swap: "none" });
  }, true);

  // A seam by itself: a second and a half before it and behind it, from the track, over and over until it is pressed again.
  const SEAM_S = 1.5;
  let seamAt = null;
  const loopSeam = (button) => {
    const track = $("[data-track-audio]"), on = seamAt === null;
    button.setAttribute("aria-pressed", on);
    seamAt = on ? Number(button.dataset.seam) : null;
    if (!track) return;
    if (!on) { track.pause(); return; }
    const begin = () => { track.currentTime = Math.max(0, seamAt - SEAM_S); track.play().catch(() => {}); };
    if (track.readyState) begin(); else { track.addEventListener("loadedmetadata", begin, { once: true }); track.load(); }
  };
  document.addEventListener("timeupdate", (event) => {
    if (seamAt !== null && event.target.matches("[data-track-audio]") && event.target.currentTime > seamAt + SEAM_S) event.target.currentTime = Math.max(0, seamAt - SEAM_S);
  }, true);

  // Blind: the take at the cursor and the one the line has, in an order nobody is told, the louder turned down.
  let pair = null;
  const blind = async () => {
    const line = here(), one = cursorOf(line);
    const other = takesOf(line).find((mark) => mark !== one && mark.dataset.take === line.dataset.chosen) || takesOf(line).find((mark) => mark !== one);
    if (!one || !other) return;
    pair = crypto.getRandomValues(new Uint8Array(1))[0] % 2 ? [one, other] : [other, one];
    $("#blind").showModal();
    await both();
  };
  const both = async () => {
    const told = $("[data-blind-told]"), levels = pair.map((mark) => Number(mark.dataset.level)), softer = Math.min(...levels), now = pair;
    for (const place of [0, 1]) {
      if (pair !== now || !$("#blind").open) return;
      told.textContent = place ? "The second…" : "The first…";
      await play(pair[place], 10 ** ((softer - levels[place]) / 20), 0.3);
    }
    if (pair === now) told.textContent = "Both at one loudness.";
  };
  document.addEventListener("close", (event) => { if (event.target.id === "blind") { pair = null; stop(); } }, true);
  document.addEventListener("click", (event) => {
    const answer = event.target.closest("[data-blind]");
    if (answer) {
      const kept = pair, value = answer.dataset.blind;
      if (value === "again") { both(); return; }
      $("#blind").close();
      if (kept && value) kept[Number(value)].click();
      return;
    }
    const seam = event.target.closest("[data-seam]");
    if (seam) { loopSeam(seam); return; }
    const hear = event.target.closest("[data-hear]");
    if (hear) {
      const line = lines().find((one) => one.dataset.line === $("[data-detail]").dataset.detail);
      play(takesOf(line).find((mark) => mark.dataset.take === hear.dataset.hear));
      return;
    }
    const opener = event.target.closest("[data-open]");
    if (opener) event.preventDefault();
    const line = event.target.closest(".lyric-line");
    if (line && !event.target.closest(".lyric-take")) go(line);
    const take = event.target.closest(".lyric-take");
    if (take) at = take.closest(".lyric-line").dataset.line;
  });

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, select, textarea, dialog, audio, summary")) return;
    const line = event.target.closest(".lyric-line");
    if (!line) return;
    const on = event.target === line;
    if (event.key === "ArrowDown" || event.key === "ArrowUp") { event.preventDefault(); step(event.key === "ArrowDown" ? 1 : -1); return; }
    if (event.key === "ArrowLeft" || event.key === "ArrowRight") { event.preventDefault(); turn(event.key === "ArrowRight" ? 1 : -1); return; }
    if (event.key === " " && on) { event.preventDefault(); if (player().paused) { const mark = cursorOf(line); if (mark) play(mark); } else stop(); return; }
    if (event.key === "Enter" && on) { event.preventDefault(); inTurn(() => { const mark = cursorOf(here()); if (mark) mark.click(); }); return; }
    if (!("shortcuts" in document.body.dataset)) return;
    if (event.key === "b") { event.preventDefault(); blind(); return; }
    const name = { r: "rhythm", f: "feeling", i: "pitch" }[event.key], detail = $("[data-detail]");
    if (EDITS.includes(event.key) && detail && detail.dataset.detail === at) {
      inTurn(() => edit(event.key, $("[data-detail]")));
      event.preventDefault(); event.stopPropagation(); return; }
    if (name && detail && detail.dataset.detail === at) {
      event.preventDefault();
      event.stopPropagation();
      inTurn(() => {
        const mark = cursorOf(here()), form = mark && $(`[data-marks-of="${mark.dataset.take}"]`);
        if (form) $(`[data-mark="${name}"]`, form).click();
      });
    }
  }, true);
  // A line is moved, split in the middle or joined with the next by keys, through the very forms of its detail.
  const STEP_S = 0.05, EDITS = [",", ".", "x", "j"];
  const edit = (key, detail) => {
    if (!detail || detail.dataset.detail !== at) return;
    const begin = $("#begin", detail), split = $("#split", detail) || $("[name=split]", detail), join = $("[name=join]", detail);
    if ((key === "," || key === ".") && begin) {
      begin.value = (Number(begin.value) + (key === "." ? STEP_S : -STEP_S)).toFixed(2);
      begin.form.requestSubmit();
    } else if (key === "x" && split) {
      if (split.options) split.selectedIndex = Math.floor((split.options.length - 1) / 2);
      if (split.options) split.form.requestSubmit(); else split.click();
    } else if (key === "j" && join) join.click();
  };

  // Keys pressed faster than the server answers wait their turn: the answer to one puts new forms in place of those here.
  let busy = false;
  const turns = [];
  const inTurn = (act) => { if (busy) turns.push(act); else act(); };
  const answered = (event) => event.detail.target && event.detail.target.id === "comp";
  document.addEventListener("htmx:beforeRequest", (event) => { if (answered(event)) busy = true; });
  document.addEventListener("htmx:afterRequest", (event) => { if (answered(event) && !event.detail.successful) { busy = false; turns.length = 0; } });
  // A line's time is dragged: to the right it begins later. Let go, it is kept; the server says where that cannot be.
  const PER_PIXEL_S = 0.01, DRAG_FROM = 3;
  let drag = null;
  const clock = (s) => `${Math.floor(s / 60)}:${(s % 60).toFixed(1).padStart(4, "0")}`;
  document.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest(".lyric-when"), line = handle && handle.closest(".lyric-line");
    if (!line || !line.dataset.start || event.button) return;
    const start = Number(line.dataset.start);
    drag = { handle, line, from: event.clientX, start, at: start, moved: false, told: handle.textContent,
      low: Number(line.dataset.earliest), high: Number(line.dataset.latest) };
    handle.setPointerCapture(event.pointerId);
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const by = event.clientX - drag.from;
    drag.moved = drag.moved || Math.abs(by) > DRAG_FROM;
    if (!drag.moved) return;
    drag.at = Math.min(drag.high, Math.max(drag.low, drag.start + PER_PIXEL_S * by));
    drag.handle.textContent = clock(drag.at);
  });
  const drop = (keep) => {
    if (!drag) return;
    const { handle, line, at: begin, moved, told } = drag;
    drag = null;
    if (!moved) return;
    handle.addEventListener("click", (event) => { event.preventDefault(); event.stopPropagation(); }, { once: true, capture: true });
    at = line.dataset.line;
    if (keep) htmx.ajax("POST", handle.getAttribute("href"), { target: "#comp", swap: "outerHTML", values: { begin: begin.toFixed(2) } });
    else handle.textContent = told;
  };
  document.addEventListener("pointerup", () => drop(true));
  document.addEventListener("pointercancel", () => drop(false));
  document.addEventListener("focusin", (event) => { const line = event.target.closest && event.target.closest(".lyric-line"); if (line && line.dataset.line !== at) go(line, false); });

  // A slider of the detail tells its field; let go, it is kept.
  document.addEventListener("input", (event) => { if (event.target.matches("[data-begin]")) { $("#begin").value = Number(event.target.value).toFixed(2); event.target.setAttribute("aria-valuetext", `${event.target.value} seconds`); } });
  document.addEventListener("change", (event) => { if (event.target.matches("[data-begin]")) event.target.form.requestSubmit(); });

  // What the server answers stands on the same line, with the focus where it was.
  let focused = false;
  document.addEventListener("htmx:beforeSwap", (event) => { if (event.target.id === "comp") focused = Boolean(document.activeElement && document.activeElement.closest(".lyric-line")) || document.activeElement === document.body; });
  // At the swap itself, as a key pressed before it settles would fall beside the line.
  document.addEventListener("htmx:afterSwap", (event) => { if (focused && at && event.target.id === "comp" && here()) { here().tabIndex = 0; here().focus(); } });
  document.addEventListener("htmx:afterSettle", (event) => {
    if (!$("#comp") || !event.target.closest || !event.target.closest("#comp")) return;
    const line = here();
    if (!line) return;
    for (const one of lines()) one.tabIndex = one === line ? 0 : -1;
    show();
    if (at && !$("[data-detail]")) open(line);
    if (event.target.id !== "comp") return;
    busy = false;
    while (turns.length && !busy) turns.shift()();
  });
  show();
})();
