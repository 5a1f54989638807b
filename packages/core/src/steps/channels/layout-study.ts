import type { Block } from '../../signal/signal.ts';

export type Layout = 'left' | 'right' | 'alike' | 'flipped' | 'stereo';

/** A side this far under the other is dead: crosstalk and the converter's own noise lie there. */
const DEAD_POWER = 10 ** (-30 / 10);
/** Two microphones on one voice correlate less than this; one microphone on two tracks correlates more. */
const ALIKE = 0.95;

/** What the two sides of a stereo file are to each other. */
export class LayoutStudy {
  private left = 0;
  private right = 0;
  private both = 0;

  hear([left, right]: Block): void {
    let [l, r, b] = [0, 0, 0];
    for (let i = 0; i < left.length; i++) {
      l += left[i] * left[i];
      r += right[i] * right[i];
      b += left[i] * right[i];
    }
    this.left += l;
    this.right += r;
    this.both += b;
  }

  conclude(): Layout {
    const { left, right, both } = this;
    if (right <= DEAD_POWER * left) return 'left';
    if (left <= DEAD_POWER * right) return 'right';
    const correlation = both / Math.sqrt(left * right);
    return correlation > ALIKE ? 'alike' : correlation < -ALIKE ? 'flipped' : 'stereo';
  }
}
