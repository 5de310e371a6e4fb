const SPARK = { width: 110, height: 20 };

/** Numbers as a line from the first to the last; the last one is marked. */
export function Sparkline({ points, text }: { points: { at: number; value: number }[]; text: string }) {
  const values = points.map((p) => p.value);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const last = points.at(-1) ?? { at: 0, value: 0 };
  const x = (at: number) => 2 + (at * (SPARK.width - 4)) / Math.max(1, last.at);
  const y = (v: number) => SPARK.height - 3 - ((v - least) * (SPARK.height - 6)) / Math.max(1e-9, most - least);
  return (
    <svg width={SPARK.width} height={SPARK.height} role="img" aria-label={text} className="block">
      <polyline
        points={points.map((p) => `${x(p.at).toFixed(1)},${y(p.value).toFixed(1)}`).join(" ")}
        fill="none"
        stroke="var(--color-bottle)"
        strokeWidth="1.3"
      />
      <circle cx={x(last.at)} cy={y(last.value)} r="2" fill="var(--color-bottle)" />
    </svg>
  );
}
