import { useEffect, useRef, useState } from "react";

type Props = {
  label: string;
  text: string;
  problem: string | null;
  onChange: (text: string) => void;
  onEnd: (then: "down" | "right" | "stay") => void;
  onCancel: () => void;
};

/** A cell being typed over: Enter and Tab save, Escape leaves it as it was. */
export function CellInput({ label, text, problem, onChange, onEnd, onCancel }: Props) {
  const field = useRef<HTMLInputElement>(null);
  /** Where the cell begins in its row, so that what is wrong is said below it and not cut off by it. */
  const [left, setLeft] = useState(0);
  useEffect(() => {
    field.current?.focus();
    setLeft(field.current?.parentElement?.offsetLeft ?? 0);
  }, []);
  return (
    <>
      <input
        ref={field}
        aria-label={label}
        aria-invalid={problem !== null}
        value={text}
        onChange={(e) => onChange(e.target.value)}
        onBlur={() => problem === null && onEnd("stay")}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") onCancel();
          if (e.key !== "Enter" && e.key !== "Tab") return;
          e.preventDefault();
          onEnd(e.key === "Enter" ? "down" : "right");
        }}
        className={`-mx-2 w-[calc(100%+1rem)] bg-sheet px-2 outline-2 ${problem ? "outline-vermilion" : "outline-bottle"}`}
      />
      {problem && (
        <span
          role="alert"
          style={{ left }}
          className="absolute top-full z-20 rounded border border-vermilion bg-vermilion-tint px-2 py-1 whitespace-normal text-ink shadow"
        >
          {problem}
        </span>
      )}
    </>
  );
}
