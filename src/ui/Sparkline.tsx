const SPARK = { width: 110, height: 20 };

/** Numbers as a line from the first to the last; the last one is marked. */
export function Sparkline({ values, text }: { values: number[]; text: string }) {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const x = (i: number) => 2 + (i * (SPARK.width - 4)) / Math.max(1, values.length - 1);
  const y = (v: number) => SPARK.height - 3 - ((v - least) * (SPARK.height - 6)) / Math.max(1e-9, most - least);
  const last = values.length - 1;
  return (
    <svg width={SPARK.width} height={SPARK.height} role="img" aria-label={text} className="block">
      <polyline points={values.map((v, i) => `${x(i).toFixed(1)},${y(v).toFixed(1)}`).join(" ")} fill="none" stroke="var(--color-bottle)" strokeWidth="1.3" />
      <circle cx={x(last)} cy={y(values[last] ?? 0)} r="2" fill="var(--color-bottle)" />
    </svg>
  );
}
