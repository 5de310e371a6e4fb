// Shows the appearance that this browser keeps before the page is drawn (src/ui/appearance.ts says what it is).
try {
  const kept = JSON.parse(localStorage.getItem("appearance") ?? "{}");
  const { dataset, style } = document.documentElement;
  for (const name of ["theme", "contrast", "motion", "density"]) if (typeof kept[name] === "string") dataset[name] = kept[name];
  if ([90, 100, 115, 130].includes(kept.text)) style.fontSize = `${kept.text}%`;
} catch {
  // A browser that keeps nothing shows the usual.
}
