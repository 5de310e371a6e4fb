"use client";

import type { ShapeSpec } from "@/core/shape/spec";
import { TYPE_WORDS } from "@/core/types/valueType";
import { WORDS } from "./words";

type Props = { name: string; spec: ShapeSpec; change: (next: ShapeSpec, said?: string) => void };

/** The column that numbers a table's rows, as its key. */
export const NumberLine = ({ name, spec, change }: Props) => (
  <tr className="border-b border-hairline bg-bottle-tint">
    <td className="px-1 py-1">
      <input
        className="field w-full"
        aria-label={WORDS.keyNumberName}
        value={name}
        onChange={(e) => change({ ...spec, key: { kind: "number", name: e.target.value } }, "name of key")}
      />
    </td>
    <td className="px-4">{TYPE_WORDS.whole}</td>
    <td className="px-1 text-center text-bottle">✓</td>
    <td colSpan={5} />
    <td className="px-1 text-small text-soft">{WORDS.keyNumber}</td>
    <td className="px-1">
      <button type="button" className="small-button" aria-label={WORDS.removeColumn(name)} onClick={() => change({ ...spec, key: undefined })}>
        ×
      </button>
    </td>
  </tr>
);
