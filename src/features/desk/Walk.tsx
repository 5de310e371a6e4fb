"use client";

import { useState } from "react";
import { nextStep, placeOfStep, WALK_STEPS, type WalkStep } from "@/core/desk/walk";
import { ask } from "../ask";
import { Link } from "../Link";
import { placeOf } from "../places";
import { WORDS } from "./words";

/** The demo's walk: its steps, ticked off as they are done; closed for good with a click. */
export function Walk({ done }: { done: WalkStep[] }) {
  const [closed, setClosed] = useState(false);
  if (closed) return null;
  const next = nextStep({ done, closed: false });
  const close = () => {
    setClosed(true);
    void ask("/api/desk/walk", { close: true }).catch(() => setClosed(false));
  };
  return (
    <section aria-label={WORDS.walk.heading} className="mt-7 border border-rule bg-sheet p-4">
      <div className="flex items-baseline gap-2">
        <h2 className="font-semibold">{WORDS.walk.heading}</h2>
        <span className="ml-auto text-small whitespace-nowrap text-faint">{WORDS.walk.done(String(done.length), String(WALK_STEPS.length))}</span>
        <button type="button" className="text-small text-soft hover:text-ink" onClick={close}>
          {WORDS.walk.close}
        </button>
      </div>
      <p className="pt-1 text-small text-soft">{next ? WORDS.walk.about : WORDS.walk.finished}</p>
      <ol className="list-decimal pt-2 pl-6">
        {WALK_STEPS.map((step) => {
          const place = placeOfStep(step);
          return (
            <li key={step} className={`py-1 ${step === next ? "font-semibold" : done.includes(step) ? "text-bottle" : "text-soft"}`} data-step={step}>
              <Link href={placeOf(place.kind, place.id)} className="hover:underline">
                {done.includes(step) && "✓ "}
                {WORDS.walk.steps[step]}
              </Link>
              {step === next && <span className="block text-small font-normal text-soft">{WORDS.walk.hints[step]}</span>}
            </li>
          );
        })}
      </ol>
    </section>
  );
}
