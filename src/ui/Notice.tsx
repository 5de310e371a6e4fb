import type { ReactNode } from "react";

const TONES = {
  look: "border-ochre bg-ochre-tint",
  wrong: "border-vermilion bg-vermilion-tint",
  agrees: "border-bottle bg-bottle-tint",
} as const;

/** A few words beside the work: agreement, something that needs a look, or what is wrong; with what to do. */
export function Notice({ tone, children }: { tone: keyof typeof TONES; children: ReactNode }) {
  return (
    <div role={tone === "wrong" ? "alert" : "status"} className={`notice ${TONES[tone]}`}>
      {children}
    </div>
  );
}
