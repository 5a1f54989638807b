import { sharedWatch, watchModules } from '@tonos/core';
import { afterLearning } from '../../modules/learn-modules.ts';
import { Feeder } from './feeder.ts';
import type { FromFeeder, ToFeeder } from './messages.ts';
import { fetchFrames } from './sample-reader.ts';
import { SharedRing } from './shared-ring.ts';

// the library of the DOM does not know the worker's own scope
const scope = self as unknown as {
  postMessage(message: FromFeeder): void;
  onmessage: ((event: MessageEvent<ToFeeder>) => void) | null;
};

/** Less than a second, and more than a busy machine rests. */
const LEAST_MODULE_MS = 500;

let feeder: Feeder | undefined;

const take = (message: ToFeeder) => {
  if (message.type === 'start') {
    const say = (told: FromFeeder) => scope.postMessage(told);
    watchModules(sharedWatch(message.watch, LEAST_MODULE_MS));
    feeder = new Feeder({ ring: new SharedRing(message.ring), rateHz: message.rateHz, fetchBlock: fetchFrames, say });
  } else if (message.type === 'go') void feeder?.go(message.asked, message);
  else if (message.type === 'change') feeder?.change(message.track, message.gainDb);
  else void feeder?.snippet(message.asked, message.track, message.seconds, message.gainDb);
};

const takeInTurn = afterLearning(take, (message) =>
  'track' in message ? [message.track.live?.steps, message.track.programme] : [],
);

scope.onmessage = ({ data }) => takeInTurn(data);
