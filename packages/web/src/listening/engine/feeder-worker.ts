import { Feeder } from './feeder.ts';
import type { FromFeeder, ToFeeder } from './messages.ts';
import { fetchFrames } from './sample-reader.ts';
import { SharedRing } from './shared-ring.ts';

// the library of the DOM does not know the worker's own scope
const scope = self as unknown as {
  postMessage(message: FromFeeder): void;
  onmessage: ((event: MessageEvent<ToFeeder>) => void) | null;
};

let feeder: Feeder | undefined;

scope.onmessage = ({ data }) => {
  if (data.type === 'start') {
    const say = (message: FromFeeder) => scope.postMessage(message);
    feeder = new Feeder({ ring: new SharedRing(data.ring), rateHz: data.rateHz, fetchBlock: fetchFrames, say });
  } else if (data.type === 'go') void feeder?.go(data.asked, data);
  else if (data.type === 'change') feeder?.change(data.track, data.gainDb);
  else void feeder?.snippet(data.asked, data.track, data.seconds, data.gainDb);
};
