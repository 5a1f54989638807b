/** Draws columns of smallest and largest sample over the whole width, silence as a hairline. */
export function drawWave(
  context: CanvasRenderingContext2D,
  columns: readonly (readonly [number, number])[],
  width: number,
  height: number,
  colour: string,
): void {
  context.clearRect(0, 0, width, height);
  context.fillStyle = colour;
  if (!columns.length) return;
  const middle = height / 2;
  for (let x = 0; x < width; x++) {
    const from = Math.floor((x / width) * columns.length);
    // a width need not be whole: the last pixel may reach over the end
    const to = Math.min(columns.length, Math.max(from + 1, Math.floor(((x + 1) / width) * columns.length)));
    let low = 0;
    let high = 0;
    for (let i = from; i < to; i++) {
      low = Math.min(low, columns[i][0]);
      high = Math.max(high, columns[i][1]);
    }
    const top = middle - high * middle;
    const bottom = middle - low * middle;
    context.fillRect(x, Math.min(top, middle - 0.5), 1, Math.max(1, bottom - top));
  }
}
