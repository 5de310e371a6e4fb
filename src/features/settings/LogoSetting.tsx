"use client";

import { useRef } from "react";
import { toast } from "sonner";
import { Logo } from "../workspace/Logo";
import { Group } from "./parts";
import { WORDS } from "./words";

/** Larger files are not even read. */
const LARGEST = 200_000;

/** The company's logo: a picture from a file. */
export function LogoSetting({ logo, onChange }: { logo: string | null; onChange: (next: string | null) => void }) {
  const file = useRef<HTMLInputElement>(null);
  function read(chosen: File | undefined): void {
    if (!chosen) return;
    if (chosen.size > LARGEST || !["image/png", "image/jpeg"].includes(chosen.type)) {
      toast.error(WORDS.logoRefused);
      return;
    }
    const reader = new FileReader();
    reader.onload = () => onChange(String(reader.result));
    reader.readAsDataURL(chosen);
  }
  return (
    <Group words={WORDS.logo}>
      <span className="flex items-center gap-3">
        <Logo address={logo} className="h-10 max-w-48" />
        <button type="button" className="button" onClick={() => file.current?.click()}>
          {WORDS.chooseLogo}
        </button>
        {logo && (
          <button type="button" className="link" onClick={() => onChange(null)}>
            {WORDS.removeLogo}
          </button>
        )}
        <input
          ref={file}
          type="file"
          accept="image/png,image/jpeg"
          aria-label={WORDS.logo}
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => {
            read(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </span>
    </Group>
  );
}
