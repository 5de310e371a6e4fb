import { type ReactNode, useEffect, useId, useRef, useState } from "react";
import type { Suggestion } from "./sheetParts";

type Props = {
  label: string;
  text: string;
  problem: string | null;
  /** What can stand in the cell; null where it is typed freely. */
  suggest: (text: string) => Promise<Suggestion[]> | null;
  /** What is shown below the values offered. */
  beside?: ReactNode;
  onChange: (text: string) => void;
  onPick: (text: string) => void;
  onEnd: (then: "down" | "right" | "stay") => void;
  onCancel: () => void;
};

/** Pixels that the values offered need. */
const ROOM = 320;

/** How long what is typed settles before values are looked for. */
const SETTLE_MS = 150;

function useSuggestions(text: string, suggest: Props["suggest"]): Suggestion[] {
  const [found, setFound] = useState<Suggestion[]>([]);
  const latest = useRef(suggest);
  latest.current = suggest;
  useEffect(() => {
    let wanted = true;
    const timer = setTimeout(() => {
      latest.current(text)?.then(
        (list) => wanted && setFound(list),
        () => wanted && setFound([]),
      );
    }, SETTLE_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [text]);
  return found;
}

/** A cell being typed over: Enter and Tab save, Escape leaves it as it was; the arrows choose among the values that are offered. */
export function CellInput({ label, text, problem, suggest, beside, onChange, onPick, onEnd, onCancel }: Props) {
  const field = useRef<HTMLInputElement>(null);
  const id = useId();
  /** Where what is said beside the field stands: above it where there is no room below. */
  const [side, setSide] = useState("top-full");
  const [edge, setEdge] = useState("left-full ml-1");
  const [chosen, setChosen] = useState(-1);
  const offered = useSuggestions(text, suggest);
  const shown = problem === null ? offered : [];
  const picked = shown[chosen];
  useEffect(() => {
    field.current?.focus();
    const at = field.current?.getBoundingClientRect();
    if ((at?.bottom ?? 0) > window.innerHeight - ROOM) setSide("bottom-full");
    const right = field.current?.closest("[role=grid]")?.getBoundingClientRect().right ?? window.innerWidth;
    if ((at?.right ?? 0) > right - ROOM) setEdge("right-full mr-1");
  }, []);
  const walk = (by: number) => setChosen((at) => Math.max(-1, Math.min(shown.length - 1, at + by)));
  return (
    <>
      <input
        ref={field}
        role="combobox"
        aria-label={label}
        aria-invalid={problem !== null}
        aria-expanded={shown.length > 0}
        aria-controls={`${id}-values`}
        aria-activedescendant={picked ? `${id}-${chosen}` : undefined}
        value={text}
        onChange={(e) => {
          setChosen(-1);
          onChange(e.target.value);
        }}
        onBlur={() => problem === null && onEnd("stay")}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") onCancel();
          const by = { ArrowDown: 1, ArrowUp: -1 }[e.key];
          if (by && shown.length > 0) {
            e.preventDefault();
            walk(by);
          }
          if (e.key !== "Enter" && e.key !== "Tab") return;
          e.preventDefault();
          if (picked) onPick(picked.text);
          else onEnd(e.key === "Enter" ? "down" : "right");
        }}
        className={`-mx-2 w-[calc(100%+1rem)] bg-sheet px-2 outline-2 ${problem ? "outline-vermilion" : "outline-bottle"}`}
      />
      {shown.length > 0 && (
        <span id={`${id}-values`} role="listbox" className={`popover absolute left-0 ${side} z-20 block w-max min-w-48 p-1 text-left text-ink shadow`}>
          {shown.map((s, i) => (
            <button
              key={`${s.text} ${s.words}`}
              id={`${id}-${i}`}
              type="button"
              role="option"
              aria-selected={i === chosen}
              tabIndex={-1}
              // The field would lose its focus, and save what is typed so far.
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => onPick(s.text)}
              className={`menu-item flex justify-between gap-4 ${i === chosen ? "bg-bottle-tint" : ""}`}
            >
              <span className="max-w-72 truncate">{s.words}</span> {s.note && <span className="text-soft">{s.note}</span>}
            </button>
          ))}
        </span>
      )}
      {beside && problem === null && (
        // The field keeps the focus while the mouse chooses.
        <span className={`popover absolute ${edge} ${side} z-20 block w-max p-2 text-left text-ink shadow`} onMouseDown={(e) => e.preventDefault()}>
          {beside}
        </span>
      )}
      {problem && (
        <span
          role="alert"
          className={`absolute left-0 ${side} z-20 w-max max-w-96 rounded border border-vermilion bg-vermilion-tint px-2 py-1 text-left whitespace-normal text-ink shadow`}
        >
          {problem}
        </span>
      )}
    </>
  );
}
