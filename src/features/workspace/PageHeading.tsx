"use client";

import { createContext, type ReactNode, useContext, useEffect } from "react";
import { titleOf } from "./title";

/** Told what the page that is shown is called. */
export const PlaceContext = createContext<(name: string) => void>(() => {});

/** Names the page that is shown: in the browser's tab, and on the way back to it. */
export function PlaceName({ name }: { name: string }) {
  const tell = useContext(PlaceContext);
  useEffect(() => tell(name), [name, tell]);
  return <title>{titleOf(name)}</title>;
}

/** The heading of a page, which is called by it. */
export function PageHeading({ name, children = name, className = "" }: { name: string; children?: ReactNode; className?: string }) {
  return (
    <>
      <PlaceName name={name} />
      <h1 className={`font-serif text-title font-semibold ${className}`}>{children}</h1>
    </>
  );
}
