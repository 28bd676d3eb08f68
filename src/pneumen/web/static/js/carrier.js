// A worker beside the page: takes an input's samples as they come and sends them on in order, one request at a time.
"use strict";
const LONGEST_BYTES = 500000; // of one request; the server takes twice as much
const LEAST_S = 0.08; // of sound in a request
let waiting = [], held = 0, sending = null, to = null;

// Only what follows on goes together, so that the server hears of each gap; a clock's stamps are never so exact.
const together = () => {
  const blocks = [];
  let bytes = 0, next = waiting[0].first;
  while (waiting.length && bytes < LONGEST_BYTES && (to.clock || waiting[0].first === next)) {
    const block = waiting.shift();
    blocks.push(block.samples);
    bytes += block.samples.byteLength;
    next = block.first + block.samples.length / block.count;
    held -= block.samples.length / block.count;
  }
  return blocks;
};
const sendAll = async () => {
  while (waiting.length) {
    const first = waiting[0].first, body = new Blob(together());
    const answer = await fetch(`${to.address}&first=${first}`, { method: "POST", headers: to.headers, body });
    if (answer.ok) { postMessage({ html: await answer.text() }); continue; }
    const says = answer.headers.get("content-type") === "application/json";
    waiting = [];
    postMessage({ problem: says ? (await answer.json()).problem : "" });
  }
};
const send = () => {
  sending = sending || sendAll().catch(() => { waiting = []; postMessage({ problem: "" }); }).finally(() => { sending = null; });
  return sending;
};
const take = (block) => {
  waiting.push(block);
  held += block.samples.length / block.count;
  if (held >= LEAST_S * to.rate) send();
};

// The track's own samples, straight from the device, where the browser hands them out: no second clock comes between.
const readTrack = async (stream) => {
  const reader = stream.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const frames = value.numberOfFrames, count = value.numberOfChannels;
    const samples = new Float32Array(frames * count), plane = new Float32Array(frames);
    for (let channel = 0; channel < count; channel += 1) {
      value.copyTo(plane, { planeIndex: channel, format: "f32-planar" });
      for (let frame = 0; frame < frames; frame += 1) samples[frame * count + channel] = plane[frame];
    }
    take({ first: Math.round(value.timestamp * to.rate / 1e6), count, samples });
    value.close();
  }
};
onmessage = async ({ data }) => {
  if (data.to) to = data.to;
  if (data.address) to.address = data.address;
  if (data.stream) readTrack(data.stream).catch((error) => { console.error(String(error)); postMessage({ problem: "" }); });
  if (data.port) data.port.onmessage = ({ data: block }) => take(block);
  if (data.end) { // what still waits belongs to the take
    await send();
    postMessage({ ended: true });
  }
};
