import type { Page } from '@playwright/test';

const EAR = `registerProcessor('ear', class extends AudioWorkletProcessor {
  process([[left]]) {
    if (left) this.port.postMessage(left.slice());
    return true;
  }
});`;

/** Keeps what reaches the sound device, as `heard` in the page: a second worklet listens beside the device. */
export async function overhear(page: Page): Promise<void> {
  await page.addInitScript((program) => {
    const heard: number[] = [];
    Object.assign(window, { heard });
    const addModule = AudioWorklet.prototype.addModule;
    AudioWorklet.prototype.addModule = async function (url) {
      await addModule.call(this, URL.createObjectURL(new Blob([program], { type: 'text/javascript' })));
      await addModule.call(this, url);
    };
    const connect = AudioNode.prototype.connect as (to: AudioNode) => AudioNode;
    AudioNode.prototype.connect = function (this: AudioNode, to: AudioNode) {
      if (to instanceof AudioDestinationNode) {
        const ear = new AudioWorkletNode(this.context, 'ear');
        ear.port.onmessage = ({ data }: MessageEvent<Float32Array>) => heard.push(...data);
        connect.call(this, ear);
        connect.call(ear, to); // silent; what leads nowhere is not run
      }
      return connect.call(this, to);
    } as typeof AudioNode.prototype.connect;
  }, EAR);
}

/** Highest sample of the last ones that reached the device; one second, if nothing else is said. */
export const peakHeard = (page: Page, last = 24_000): Promise<number> =>
  page.evaluate(
    (count) =>
      (window as unknown as { heard: number[] }).heard
        .slice(-count)
        .reduce((most, x) => Math.max(most, Math.abs(x)), 0),
    last,
  );
