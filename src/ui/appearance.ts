"use client";

import { useSyncExternalStore } from "react";

/** How the screens look: by the system, or as somebody chose in this browser. */
export type Appearance = {
  theme: "system" | "light" | "dark";
  contrast: "system" | "more";
  /** Percent of the usual size of type. */
  text: 90 | 100 | 115 | 130;
  motion: "system" | "less";
  /** How close the rows of sheets stand. */
  density: "comfortable" | "compact";
};

export const USUAL: Appearance = { theme: "system", contrast: "system", text: 100, motion: "system", density: "comfortable" };
export const TEXT_SIZES: Appearance["text"][] = [90, 100, 115, 130];
/** Where a browser keeps it; what is written there stands on the page's root before it is drawn (app/layout.tsx). */
export const APPEARANCE_KEY = "appearance";

const CHOICES: { [K in keyof Appearance]: readonly Appearance[K][] } = {
  theme: ["system", "light", "dark"],
  contrast: ["system", "more"],
  text: TEXT_SIZES,
  motion: ["system", "less"],
  density: ["comfortable", "compact"],
};

/** What was kept, with the usual in place of what is missing or not known. @param kept as JSON; null where nothing is kept */
export function readAppearance(kept: string | null): Appearance {
  let given: Partial<Record<keyof Appearance, unknown>> = {};
  try {
    given = (JSON.parse(kept ?? "{}") as typeof given | null) ?? {};
  } catch {
    // Kept by another version: the usual.
  }
  const one = <K extends keyof Appearance>(key: K): Appearance[K] => CHOICES[key].find((c) => c === given[key]) ?? USUAL[key];
  return { theme: one("theme"), contrast: one("contrast"), text: one("text"), motion: one("motion"), density: one("density") };
}

const listeners = new Set<() => void>();

/** Keeps an appearance in this browser, and shows it. */
export function setAppearance(next: Appearance): void {
  try {
    localStorage.setItem(APPEARANCE_KEY, JSON.stringify(next));
  } catch {
    // A browser that keeps nothing shows it until the page is left.
  }
  showAppearance(next);
  for (const tell of listeners) tell();
}

/** Puts an appearance on the page's root, where the style sheet reads it. */
export function showAppearance({ theme, contrast, text, motion, density }: Appearance): void {
  const { dataset, style } = document.documentElement;
  Object.assign(dataset, { theme, contrast, motion, density });
  style.fontSize = `${text}%`;
}

const subscribe = (tell: () => void) => {
  listeners.add(tell);
  const media = window.matchMedia("(prefers-color-scheme: dark)");
  media.addEventListener("change", tell);
  return () => {
    listeners.delete(tell);
    media.removeEventListener("change", tell);
  };
};

const isDark = (): boolean => {
  const chosen = document.documentElement.dataset.theme;
  return chosen === "dark" || (chosen !== "light" && window.matchMedia("(prefers-color-scheme: dark)").matches);
};

/** Whether the screens are dark, by choice or by the system. */
export const useDark = (): boolean => useSyncExternalStore(subscribe, isDark, () => false);

const textScale = (): number => (Number.parseFloat(document.documentElement.style.fontSize) || 100) / 100;

/** How much larger than usual type is, for what is laid out in pixels: 1.3 at 130%. */
export const useTextScale = (): number => useSyncExternalStore(subscribe, textScale, () => 1);

const density = (): Appearance["density"] => (document.documentElement.dataset.density === "compact" ? "compact" : "comfortable");

/** How close the rows of sheets stand. */
export const useDensity = (): Appearance["density"] => useSyncExternalStore(subscribe, density, () => "comfortable");
