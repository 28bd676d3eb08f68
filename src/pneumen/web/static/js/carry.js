// Carries an input's samples out of the sound thread as they are, some blocks at a time, each with its place in the count.
"use strict";
const BLOCKS = 16;
class Carry extends AudioWorkletProcessor {
  constructor() {
    super();
    this.blocks = [];
    this.first = 0;
    this.port.onmessage = ({ data }) => { this.to = data.to; };
  }
  process([channels]) {
    if (!channels.length || !this.to) return true;
    const held = this.blocks.length * channels[0].length;
    if (this.blocks.length && currentFrame !== this.first + held) this.send(); // some never came
    if (!this.blocks.length) this.first = currentFrame;
    this.blocks.push(channels.map((one) => one.slice()));
    if (this.blocks.length >= BLOCKS) this.send();
    return true;
  }
  send() {
    const count = this.blocks[0].length, frames = this.blocks[0][0].length;
    const samples = new Float32Array(this.blocks.length * frames * count);
    this.blocks.forEach((block, at) => block.forEach((channel, number) => {
      for (let frame = 0; frame < frames; frame += 1) samples[(at * frames + frame) * count + number] = channel[frame];
    }));
    this.to.postMessage({ first: this.first, count, samples }, [samples.buffer]);
    this.blocks = [];
  }
}
registerProcessor("carry", Carry);
