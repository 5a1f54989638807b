/* The peer of the meter suite: integrated loudness, range and true peak of 16-bit stereo PCM on standard input, by libebur128. */
#include <ebur128.h>
#include <stdio.h>

int main(void) {
  static short samples[2 * 4800];
  ebur128_state *state = ebur128_init(2, 48000, EBUR128_MODE_I | EBUR128_MODE_LRA | EBUR128_MODE_TRUE_PEAK);
  size_t frames;
  while ((frames = fread(samples, 4, 4800, stdin)) > 0) ebur128_add_frames_short(state, samples, frames);
  double integrated, range, left, right;
  ebur128_loudness_global(state, &integrated);
  ebur128_loudness_range(state, &range);
  ebur128_true_peak(state, 0, &left);
  ebur128_true_peak(state, 1, &right);
  printf("%f %f %f\n", integrated, range, left > right ? left : right);
  ebur128_destroy(&state);
  return 0;
}
