// Carries an input's samples to the server and shows what it answers. Every rule and every figure comes from there.
"use strict";
(() => {
  const page = document.querySelector("[data-live]");
  if (!page) return;
  const $ = (name) => page.querySelector(`[data-${name}]`);
  const told = (name) => page.querySelector(`[data-problem-of=${name}]`).content.textContent;
  const headers = JSON.parse(document.body.getAttribute("hx-headers"));
  const RAW = { echoCancellation: false, noiseSuppression: false, autoGainControl: false, voiceIsolation: false };
  let open = null; // the input that is listened at

  const show = (html) => {
    const drawn = document.createElement("template"), key = $("key");
    drawn.innerHTML = html;
    // Links stay where they are while the rest is drawn anew: one that is replaced cannot be pressed.
    const kept = drawn.content.querySelector("[data-kept]");
    if (kept) { kept.remove(); if ($("takes").innerHTML !== kept.innerHTML) $("takes").innerHTML = kept.innerHTML; }
    $("moment").replaceChildren(drawn.content);
    const moment = $("moment").firstElementChild;
    if ($("said").textContent !== moment.dataset.says) $("said").textContent = moment.dataset.says;
    if (key.textContent !== moment.dataset.keyTold) key.textContent = moment.dataset.keyTold;
  };
  const say = (problem) => { $("problem").textContent = problem; };
  const seen = () => (matchMedia("(max-width: 699px)").matches ? "narrow" : "wide");
  const address = (mine, act, more = "") => `${page.dataset.open.replace(/open\/$/, "")}${mine.key}/${act}/?seen=${seen()}${more}`;
  const post = (url, body) => fetch(url, { method: "POST", headers, body });

  // A worker carries the samples, so that nothing the page draws holds them up.
  const heardBy = (mine) => ({ data }) => {
    if (data.ended) mine.ended();
    else if (open === mine) { if (data.html) show(data.html); else stop("", data.problem || told("server")); }
  };
  const carry = async (mine, stream) => {
    const worker = new Worker(page.dataset.carrier), channel = new MessageChannel();
    mine.worker = worker;
    worker.onmessage = heardBy(mine);
    worker.postMessage({ to: { address: address(mine, "sound"), headers, rate: mine.rate, clock: !mine.context } });
    if (!mine.context) {
      const { readable } = new MediaStreamTrackProcessor({ track: stream.getAudioTracks()[0], maxBufferSize: 1000 });
      worker.postMessage({ stream: readable }, [readable]);
      return;
    }
    await mine.context.audioWorklet.addModule(page.dataset.worklet);
    const node = new AudioWorkletNode(mine.context, "carry", {
      numberOfOutputs: 0, channelCount: mine.channels, channelCountMode: "explicit", channelInterpretation: "discrete",
    });
    node.port.postMessage({ to: channel.port1 }, [channel.port1]);
    worker.postMessage({ port: channel.port2 }, [channel.port2]);
    mine.context.createMediaStreamSource(stream).connect(node);
  };
  const emptied = (mine) => new Promise((done) => {
    if (!mine.worker) { done(); return; } // stopped before anything was carried
    mine.ended = done;
    mine.worker.onerror = done;
    mine.worker.postMessage({ end: true });
  });

  const choose = (select, options, now) => {
    select.replaceChildren(...options.map(([value, label]) => new Option(label, value, false, value === now)));
  };
  const listDevices = async (now) => {
    const inputs = (await navigator.mediaDevices.enumerateDevices()).filter((one) => one.kind === "audioinput");
    choose($("device"), inputs.map((one) => [one.deviceId, one.label || one.deviceId]), now);
  };
  const listChannels = (channels) => {
    const wanted = Number(page.dataset.channels) > 1 ? "0" : "1";
    const now = Number($("channel").value) <= channels ? $("channel").value : wanted;
    const options = Array.from({ length: channels }, (_, at) => [String(at + 1), String(at + 1)]);
    if (channels > 1) options.unshift(["0", "all"]);
    choose($("channel"), options, now);
  };

  const WHY = { NotAllowedError: "denied", SecurityError: "denied", NotFoundError: "none", OverconstrainedError: "none", NotReadableError: "busy", AbortError: "busy" };
  const start = async (purpose = page.dataset.purpose) => {
    say("");
    if (!window.isSecureContext) { say(told("insecure")); return; }
    if (!navigator.mediaDevices || !window.AudioWorkletNode) { say(told("unsupported")); return; }
    const device = $("device").value;
    let stream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({ audio: {
        ...RAW, channelCount: { ideal: 2 }, sampleRate: { ideal: Number(page.dataset.rate) }, ...(device && { deviceId: { exact: device } }),
      } });
    } catch (error) { say(told(WHY[error.name] || "busy")); return; }
    const track = stream.getAudioTracks()[0], settings = track.getSettings();
    const clock = "MediaStreamTrackProcessor" in window;
    const context = clock ? null : new AudioContext({ latencyHint: "playback", ...(settings.sampleRate && { sampleRate: settings.sampleRate }) });
    const channels = settings.channelCount || 1, rate = clock ? settings.sampleRate : context.sampleRate;
    await listDevices(settings.deviceId);
    listChannels(channels);
    const body = new FormData();
    const facts = {
      device: track.label, channel: $("channel").value, channels, rate, counted: clock ? "0" : "1",
      settings: JSON.stringify(settings), quiet: $("quiet").value, purpose,
    };
    Object.entries(facts).forEach(([name, value]) => body.append(name, value));
    const halt = () => { stream.getTracks().forEach((one) => one.stop()); if (context) context.close(); };
    try {
      const answer = await (await post(page.dataset.open, body)).json();
      if (answer.problem) { halt(); say(answer.problem); return; }
      open = { key: answer.key, halt, context, channels, rate };
    } catch { halt(); say(told("server")); return; }
    track.addEventListener("ended", () => stop("gone", told("unplugged")));
    $("begin").hidden = true; $("stop").hidden = false; $("key").hidden = false;
    $("key").focus();
    try { await carry(open, stream); } catch { stop("", told("unsupported")); }
  };
  const stop = async (why = "", problem = "") => {
    const mine = open;
    if (!mine) return;
    open = null;
    mine.halt();
    $("begin").hidden = false; $("stop").hidden = true; $("key").hidden = true;
    say(problem);
    const body = new FormData();
    body.append("why", why);
    try {
      await emptied(mine);
      const answer = await post(address(mine, "close"), body);
      if (answer.ok) show(await answer.text());
    } catch { if (!problem) say(told("server")); }
    if (mine.worker) mine.worker.terminate();
  };
  const restart = async () => { if (open) { await stop(); await start(); } };

  const press = async () => {
    if (!open) { start(); return; }
    try {
      const answer = await post(address(open, "press"));
      if (answer.ok) show(await answer.text());
    } catch { say(told("server")); }
  };
  $("begin").addEventListener("click", () => start());
  if ($("check")) $("check").addEventListener("click", async () => { await stop(); start("line"); });
  $("stop").addEventListener("click", () => stop());
  $("key").addEventListener("click", press);
  [$("device"), $("channel"), $("quiet")].forEach((one) => one.addEventListener("change", restart));
  document.addEventListener("keydown", (event) => {
    const typing = event.target.closest("input, select, textarea, button, a, summary");
    if (event.key === "PageDown" || (event.key === " " && !typing)) { event.preventDefault(); if (!event.repeat) press(); }
  });
  addEventListener("pagehide", () => {
    if (!open) return;
    const body = new FormData();
    body.append("why", "gone");
    body.append("csrfmiddlewaretoken", headers["X-CSRFToken"]);
    navigator.sendBeacon(address(open, "close"), body);
  });
})();
