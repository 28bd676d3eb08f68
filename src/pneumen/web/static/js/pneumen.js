// Moves things on the screen. Every rule and every figure comes from the server.
"use strict";
(() => {
  const root = document.documentElement;
  root.classList.replace("no-js", "has-js");
  const year = "; path=/; max-age=31536000; samesite=lax";
  const $ = (selector, from = document) => from.querySelector(selector);

  // On a phone the thread is wider than the window: the step one is on comes into sight.
  const here = $(".rail [aria-current=step]");
  if (here) {
    const box = here.getBoundingClientRect();
    here.closest(".rail").scrollLeft += box.left - (innerWidth - box.width) / 2;
  }

  // Theme: a click turns it round; the choice is a cookie, so that pages arrive in it.
  const isDark = () => (root.dataset.bsTheme || (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light")) === "dark";
  root.dataset.bsTheme = isDark() ? "dark" : "light";
  document.addEventListener("click", (event) => {
    if (!event.target.closest("[data-theme-switch]")) return;
    root.dataset.bsTheme = isDark() ? "light" : "dark";
    document.cookie = `theme=${root.dataset.bsTheme}${year}`;
  });

  // Fields, sliders and handles hold one value; whatever moves it, the server is asked what follows.
  const trial = () => $("#trial");
  let waiting = false, again = false;
  const tryOut = () => {
    if (!trial()) return;
    if (waiting) { again = true; return; }
    waiting = true;
    htmx.trigger(trial(), "tried");
  };
  document.addEventListener("htmx:configRequest", (event) => {
    if (event.target !== trial()) return; // what is folded away comes with what is kept
    const open = [...document.querySelectorAll("details[open][id]")].map((one) => one.id);
    event.detail.parameters.seen = [matchMedia("(max-width: 699px)").matches ? "narrow" : "wide", ...open].join(" ");
  });
  const settled = () => {
    waiting = false;
    if (again) { again = false; tryOut(); }
  };
  document.addEventListener("htmx:afterRequest", (event) => { if (event.target === trial()) settled(); });
  const keep = () => { again = false; const form = $("#settings"); if (form) htmx.trigger(form, "kept"); };

  // Leaving the page would break off what is just being stored: links and forms wait until it is.
  let storing = 0, then = null;
  const isKeeping = (event) => event.target.id === "settings" && event.detail.requestConfig.verb === "post";
  document.addEventListener("htmx:beforeSend", (event) => { if (isKeeping(event)) { storing += 1; event.target.ariaBusy = "true"; } });
  document.addEventListener("htmx:afterRequest", (event) => {
    if (!isKeeping(event)) return;
    storing -= 1;
    if (storing) return;
    event.target.removeAttribute("aria-busy");
    if (then) { const go = then; then = null; go(); }
  });
  const afterStoring = (event, go) => {
    if (!storing) return false;
    event.preventDefault();
    then = go;
    return true;
  };
  // What was pressed may have been drawn anew meanwhile: then the one that says the same, or the only one of its kind.
  const said = (form) => new URLSearchParams(new FormData(form)).toString();
  const submitAgain = (form, button) => {
    const alike = [...document.forms].filter((one) => one.getAttribute("action") === form.getAttribute("action"));
    const now = form.isConnected ? form : alike.find((one) => said(one) === said(form)) || (alike.length === 1 && alike[0]);
    if (!now) return;
    const buttons = [...now.elements].filter((one) => one.type === "submit");
    now.requestSubmit(button && buttons.find((one) => one.name === button.name && one.value === button.value));
  };
  addEventListener("pagehide", () => { const form = $("#settings"); if (storing && form) navigator.sendBeacon(form.action, new FormData(form)); });

  const fieldOf = (name) => document.getElementById(name);
  const sliderOf = (name) => $(`input[type=range][data-for=${name}]`);
  const clampTo = (slider, value) => Math.min(Math.max(value, Number(slider.min)), Number(slider.max));
  // Sliders and handles are metric. Where a field's reader measures otherwise, a drag writes the metric unit along, and
  // the server's answer brings the same in theirs.
  const dragged = new Set();
  const spelled = (slider, slid) => {
    const value = Math.round((slid - Number(slider.dataset.less || 0)) * 100) / 100; // measured to the grille, not the capsule
    if (!slider.dataset.suffix) return value;
    dragged.add(slider.dataset.for);
    return `${value}${slider.dataset.suffix}`;
  };
  const setValue = (name, value) => {
    const slider = sliderOf(name);
    const per = Number(slider.dataset.per || 10);
    const round = Number(slider.dataset.round); // a full turn comes back to its beginning
    const rounded = Math.round(clampTo(slider, round ? ((value % round) + round) % round : value) * per) / per;
    slider.value = rounded;
    fieldOf(name).value = spelled(slider, rounded);
    tryOut();
  };
  document.addEventListener("input", (event) => {
    const slider = event.target.closest("input[type=range][data-for]");
    if (slider) { fieldOf(slider.dataset.for).value = spelled(slider, Number(slider.value)); tryOut(); }
  });
  document.addEventListener("change", (event) => {
    const target = event.target;
    if (!target.form || target.form.id !== "settings") return;
    const slider = target.id && sliderOf(target.id);
    if (slider && !slider.dataset.suffix && !slider.dataset.less && !Number.isNaN(Number(target.value.replace(",", ".")))) slider.value = target.value.replace(",", ".");
    if ("reload" in target.dataset) target.form.submit(); // it changes what the other fields mean
    else keep();
  });
  document.addEventListener("click", (event) => {
    const mark = event.target.closest("[data-presses]");
    if (mark) fieldOf(mark.dataset.presses).click();
  });

  // Handles in the picture: up and down (or across), by pointer or arrow keys. So many steps on, each of one size or,
  // where that is how the handle goes, of one ratio.
  const moved = (handle, start, steps, step) => handle.dataset.law === "ratio" ? start * step ** steps : start + step * steps;
  document.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest(".handle");
    if (!handle) return;
    event.preventDefault();
    handle.focus();
    const { field, fieldY } = handle.dataset, perPx = Number(handle.dataset.perPx);
    const across = handle.dataset.axis === "x", at = (one) => across ? -one.clientX : one.clientY;
    const start = Number(sliderOf(field).value), from = at(event);
    const scale = handle.ownerSVGElement.getBoundingClientRect().height / handle.ownerSVGElement.viewBox.baseVal.height;
    const box = handle.ownerSVGElement.getBoundingClientRect();
    const startY = fieldY && Number(sliderOf(fieldY).value), [fromX, fromY] = [event.clientX, event.clientY];
    const up = "down" in handle.dataset ? -1 : 1; // a field that counts downwards
    const along = (now) => setValue(field, moved(handle, start, (from - at(now)) / scale, perPx));
    const about = (now) => { // a place on the plan: east and north of where it was
      setValue(field, start + (now.clientX - fromX) / scale * perPx);
      setValue(fieldY, startY - up * (now.clientY - fromY) / scale * perPx);
    };
    const round = (now) => { // a direction, clockwise from north
      const east = now.clientX - box.left - Number(handle.dataset.cx) * scale, south = now.clientY - box.top - Number(handle.dataset.cy) * scale;
      const bearing = Math.atan2(east, -south) * 180 / Math.PI, base = handle.dataset.base;
      setValue(field, base === undefined ? bearing : ((bearing - Number(base)) % 360 + 540) % 360 - 180);
    };
    const move = fieldY ? about : handle.dataset.law === "turn" ? round : along;
    const stop = () => {
      document.removeEventListener("pointermove", move);
      document.removeEventListener("pointerup", stop);
      document.removeEventListener("pointercancel", stop);
      keep();
    };
    document.addEventListener("pointermove", move);
    document.addEventListener("pointerup", stop);
    document.addEventListener("pointercancel", stop);
  });
  document.addEventListener("keydown", (event) => {
    const handle = event.target.closest && event.target.closest(".handle");
    if (!handle) return;
    const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 6, PageDown: -6 };
    const upDown = /ArrowUp|ArrowDown|Page/.test(event.key) && handle.dataset.fieldY;
    const slider = sliderOf(upDown || handle.dataset.field), step = Number(handle.dataset.step || 1);
    if (event.key in steps && handle.dataset.fieldY) setValue(slider.dataset.for, Number(slider.value) + (upDown && "down" in handle.dataset ? -step : step) * steps[event.key]);
    else if (event.key in steps) setValue(handle.dataset.field, moved(handle, Number(slider.value), steps[event.key], step));
    else if (event.key === "Home") setValue(handle.dataset.field, Number(slider.min));
    else if (event.key === "End") setValue(handle.dataset.field, Number(slider.max));
    else return;
    event.preventDefault();
  });
  document.addEventListener("keyup", (event) => {
    if (event.target.closest && event.target.closest(".handle") && /Arrow|Page|Home|End/.test(event.key)) keep();
  });
  // The picture is replaced while a handle in it has the focus: give the focus to its successor. What was unfolded
  // beside it stays so.
  let focused = null, unfolded = new Map();
  document.addEventListener("htmx:beforeSwap", () => {
    const handle = document.activeElement && document.activeElement.closest(".handle");
    focused = handle ? handle.dataset.field : null;
    unfolded = new Map([...document.querySelectorAll("#side details[id]")].map((one) => [one.id, one.open]));
  });
  document.addEventListener("htmx:oobAfterSwap", () => {
    for (const [id, open] of unfolded) if ($(`#${id}`)) $(`#${id}`).open = open;
  });
  document.addEventListener("htmx:afterSettle", (event) => {
    const kept = event.detail.requestConfig && event.detail.requestConfig.elt.id === "settings";
    for (const slider of kept ? document.querySelectorAll("input[type=range][data-suffix], input[type=range][data-less]") : []) {
      // What was typed in another unit, or to the grille, as the server read it.
      const { for: name } = slider.dataset, handle = $(`.handle[data-field=${name}], .handle[data-field-y=${name}]`);
      if (handle) slider.value = handle.getAttribute(handle.dataset.fieldY === name ? "data-now-y" : "aria-valuenow");
    }
    for (const text of waiting ? [] : document.querySelectorAll("[data-written]")) {
      const name = text.dataset.written;
      if (dragged.delete(name) && fieldOf(name)) fieldOf(name).value = text.value;
    }
    // What was kept is now what the form began with: dragged back from here, a value has changed again.
    if (kept && !$(".problem:not(:empty)"))
      for (const was of document.querySelectorAll("#settings input[name^=was-]")) {
        const now = $("#settings").elements[was.name.slice(4)];
        if (now) was.value = now.type !== "checkbox" ? now.value : now.checked ? "on" : "";
      }
    if (!focused || document.activeElement !== document.body) return;
    const handle = [...document.querySelectorAll(`.handle[data-field=${focused}]`)].find((one) => one.getClientRects().length);
    if (handle) handle.focus({ preventScroll: true });
  });

  // Walls of a plan: a click hangs the chosen piece where it fell, Enter in the middle.
  const hangOn = (wall, metres) => {
    const form = $("#hang-here");
    if (!form || !form.elements.piece.value) return;
    form.elements.on.value = wall.dataset.wall;
    form.elements.u.value = Math.min(Math.max(metres, 0), Number(wall.dataset.length)).toFixed(2) + " m";
    form.requestSubmit();
  };
  document.addEventListener("click", (event) => {
    const wall = event.target.closest("[data-wall]");
    if (!wall) return;
    const svg = wall.ownerSVGElement, box = svg.getBoundingClientRect(), scale = box.height / svg.viewBox.baseVal.height;
    const across = /north|south/.test(wall.dataset.wall);
    const place = ((across ? event.clientX - box.left : event.clientY - box.top) / scale - Number(wall.dataset.from)) / Number(wall.dataset.pxPerM);
    hangOn(wall, across ? place : Number(wall.dataset.length) - place);
  });
  document.addEventListener("keydown", (event) => {
    const wall = event.target.closest && event.target.closest("[data-wall]");
    if (wall && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); hangOn(wall, Number(wall.dataset.length) / 2); }
  });

  // Uploading: dropped files go through the same field; the bar shows how far they are.
  for (const kind of ["dragover", "dragleave", "drop"]) {
    document.addEventListener(kind, (event) => {
      const zone = event.target.closest && event.target.closest("[data-drop]");
      if (!zone) return;
      event.preventDefault();
      zone.classList.toggle("is-over", kind === "dragover");
      if (kind === "drop" && event.dataTransfer.files.length) {
        $("input[type=file]", zone).files = event.dataTransfer.files;
        const folder = $("input[name=folder]", zone);
        if (folder) folder.value = "";
        zone.requestSubmit();
      }
    });
  }
  document.addEventListener("htmx:beforeRequest", (event) => {
    const zone = event.target.closest("[data-drop]");
    const files = zone ? [...zone.querySelectorAll("input[type=file]")].flatMap((one) => [...one.files]) : [];
    if (zone && files.reduce((sum, file) => sum + file.size, 0) > Number(zone.dataset.mostBytes)) {
      event.preventDefault();
      $("#upload-problem").textContent = zone.dataset.tooLarge;
    }
  });
  document.addEventListener("htmx:xhr:progress", (event) => {
    const bar = event.target.matches("[data-drop]") && $("progress", event.target);
    if (!bar || !event.detail.lengthComputable) return;
    bar.hidden = false;
    bar.value = 100 * event.detail.loaded / event.detail.total;
    eachFile(event.target, event.detail.loaded / event.detail.total);
  });
  // Several files go one after the other in one parcel: how far it is tells how far each of them is.
  const eachFile = (zone, share) => {
    const files = [...zone.querySelectorAll("input[type=file]")].flatMap((field) => [...field.files]);
    if (files.length < 2) return;
    let list = $(".file-bars", zone);
    if (!list) {
      list = document.createElement("ul");
      list.className = "file-bars list-unstyled mt-2 mb-0";
      for (const file of files) {
        const row = document.createElement("li"), bar = document.createElement("progress");
        bar.max = Math.max(file.size, 1);
        bar.ariaLabel = file.name;
        row.append(bar, ` ${file.name}`);
        list.append(row);
      }
      zone.append(list);
    }
    let sent = share * files.reduce((sum, file) => sum + file.size, 0);
    for (const bar of list.querySelectorAll("progress")) { bar.value = Math.max(0, Math.min(sent, bar.max)); sent -= bar.max; }
  };
  // A form or page that takes its time shows so.
  let busy = 0;
  const busySoon = () => { busy = setTimeout(() => { $("#busy").hidden = false; }, 500); };
  document.addEventListener("submit", (event) => {
    if (!event.defaultPrevented && !afterStoring(event, () => submitAgain(event.target, event.submitter))) busySoon();
  });
  document.addEventListener("click", (event) => {
    const link = event.target.closest("a[href]:not([download], [target], [href^='#'])");
    if (!link || event.defaultPrevented || event.ctrlKey || event.metaKey || event.shiftKey) return;
    if (!afterStoring(event, () => location.assign(link.href))) busySoon();
  });
  addEventListener("pagehide", () => clearTimeout(busy));  // it would go on when one comes back
  addEventListener("pageshow", () => { $("#busy").hidden = true; });
  document.addEventListener("htmx:responseError", (event) => {
    const slot = $("#upload-problem");
    if (slot && event.target.matches("[data-drop]")) slot.textContent = "The file did not arrive. Try again; nothing was stored.";
  });
  document.addEventListener("htmx:sendError", () => {
    const slot = $("#upload-problem") || $("#gain-problem") || $("#problem-all");
    if (slot) slot.textContent = "Pneumen does not answer. Is it still running?";
    settled();
  });

  // A mark's key gives the next value: good, weak, none.
  const nextMark = (row) => {
    const marks = [...row.querySelectorAll("button")], now = marks.findIndex((one) => one.getAttribute("aria-pressed") === "true");
    (marks[now + 1] || marks[now]).click();
  };
  document.addEventListener("click", (event) => { if (event.target.closest("[data-print]")) print(); });

  // Shortcuts: off inside fields, and where they were switched off.
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
    if (!("shortcuts" in document.body.dataset) || event.target.closest("input, select, textarea, .handle, .wall-target, audio")) return;
    const link = $(`a[data-shortcut="${CSS.escape(event.key)}"]`);
    if (link) link.click();
    else if ($(`[data-marks="${CSS.escape(event.key)}"]`)) nextMark($(`[data-marks="${CSS.escape(event.key)}"]`));
    else if (event.key === "p" && $("[data-pin]")) $("[data-pin]").click();
    else if (event.key === "n") { const take = $("[data-new-take]"); if (take) take.focus(); else if ($('a[data-step="take"]')) $('a[data-step="take"]').click(); }
    else if (event.key === "?") { const help = $("[data-help]"); help.open = !help.open; }
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-shortcut-switch]");
    if (button) {
      const on = !("shortcuts" in document.body.dataset);
      if (on) document.body.dataset.shortcuts = "on"; else delete document.body.dataset.shortcuts;
      document.cookie = `shortcuts=${on ? "on" : "off"}${year}`;
      button.setAttribute("aria-pressed", on);
      button.textContent = `Shortcuts are ${on ? "on" : "off"}: switch`;
    }
    for (const menu of document.querySelectorAll("details.dropdown[open]")) if (!menu.contains(event.target)) menu.open = false;
  });
})();
