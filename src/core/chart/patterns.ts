/** What a pattern needs of a canvas's context, in a browser or on a server. */
type Brush = Pick<CanvasRenderingContext2D, "fillRect" | "beginPath" | "moveTo" | "lineTo" | "stroke" | "arc" | "fill"> & {
  fillStyle: unknown;
  strokeStyle: unknown;
  lineWidth: number;
};

/** Paints one tile of the n-th sign over a colour: thin light strokes, so that areas are told apart without colour too. */
export function paintPattern(brush: Brush, size: number, colour: string, place: number): void {
  const line = (x1: number, y1: number, x2: number, y2: number) => {
    brush.beginPath();
    brush.moveTo(x1, y1);
    brush.lineTo(x2, y2);
    brush.stroke();
  };
  brush.fillStyle = colour;
  brush.fillRect(0, 0, size, size);
  brush.strokeStyle = "rgba(255,253,248,0.5)";
  brush.fillStyle = "rgba(255,253,248,0.55)";
  brush.lineWidth = size / 12;
  const half = size / 2;
  const signs = [
    () => {
      line(-half, half, half, -half);
      line(0, size, size, 0);
      line(half, size + half, size + half, half);
    },
    () => {
      for (const [x, y] of [
        [size / 4, size / 4],
        [(3 * size) / 4, (3 * size) / 4],
      ] as const) {
        brush.beginPath();
        brush.arc(x, y, size / 10, 0, 2 * Math.PI);
        brush.fill();
      }
    },
    () => line(0, half, size, half),
    () => {
      line(-half, half, half, size + half);
      line(0, 0, size, size);
      line(half, -half, size + half, half);
    },
    () => line(half, 0, half, size),
    () => {
      line(0, half, size, half);
      line(half, 0, half, size);
    },
  ];
  signs[(place - 1) % signs.length]?.();
}
