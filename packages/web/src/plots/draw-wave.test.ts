import { drawWave } from './draw-wave.ts';

it('draws a wave as far as its samples reach, and silence as a hairline', () => {
  const drawn: number[][] = [];
  const context = {
    clearRect: () => {},
    fillRect: (...box: number[]) => drawn.push(box),
    fillStyle: '',
  } as unknown as CanvasRenderingContext2D;
  drawWave(
    context,
    [
      [-0.5, 1],
      [0, 0],
    ],
    2,
    100,
    '#000',
  );
  expect(drawn).toEqual([
    [0, 0, 1, 75],
    [1, 49.5, 1, 1],
  ]);
});
