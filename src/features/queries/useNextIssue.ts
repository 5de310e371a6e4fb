import { useEffect } from "react";
import { toast } from "sonner";
import { WORDS } from "./words";

const KEY = "i";
/** Where the key is a letter that is typed. */
const TYPED = "input, textarea, select, [contenteditable=true], .cm-content";
/** What in the margin needs a look. */
export const ISSUE = { "data-issue": "" };

/** The place after another, around the end; the first after none (-1). */
export const nextPlace = (at: number, count: number): number => (at + 1) % count;

/**
 * Goes to the next number of the proof that needs a look, by one key.
 * @param show brings the proof in sight
 */
export function useNextIssue(show: () => void): void {
  useEffect(() => {
    const go = () => {
      const issues = [...document.querySelectorAll<HTMLElement>("aside [data-issue]")];
      if (issues.length === 0) return void toast(WORDS.noIssues);
      const to = issues[nextPlace(issues.indexOf(document.activeElement as HTMLElement), issues.length)];
      to?.focus();
      to?.scrollIntoView({ block: "nearest" });
    };
    const onKey = (event: KeyboardEvent) => {
      const typed = event.target instanceof Element && event.target.closest(TYPED);
      if (event.key !== KEY || event.ctrlKey || event.metaKey || event.altKey || typed) return;
      event.preventDefault();
      show();
      // The proof is there once it is shown.
      requestAnimationFrame(go);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [show]);
}
