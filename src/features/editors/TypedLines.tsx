"use client";

import { useState } from "react";
import { readTyped, writeTyped } from "@/core/types/typed";
import type { ValueType } from "@/core/types/valueType";
import { useLocale } from "../workspace/locale";
import { useWays } from "../workspace/ways";

type LinesProps = { type: ValueType; values: string[]; label: string; onChange: (next: string[]) => void; percent?: boolean };

/**
 * Values typed one a line, in the workspace's notation. A line that is no value of the type is kept as it was typed, so
 * that what is wrong with it can be said where the values are used.
 */
export function TypedLines({ type, values, label, onChange, percent = false }: LinesProps) {
  const locale = useLocale();
  const { day } = useWays();
  const [typed, setTyped] = useState<string | null>(null);
  const read = (text: string) => text.split("\n").map((line) => (line.trim() && readTyped(type, line, locale, day, percent)) || line);
  return (
    <textarea
      className="field h-28"
      aria-label={label}
      value={typed ?? values.map((v) => writeTyped(type, v, locale, percent)).join("\n")}
      onChange={(e) => {
        setTyped(e.target.value);
        onChange(read(e.target.value));
      }}
      onBlur={() => {
        setTyped(null);
        onChange(values.filter((v, i) => v !== "" || i === 0));
      }}
    />
  );
}
