"use client";

import dynamic from "next/dynamic";
import { useEffect } from "react";
import type { SearchSpec } from "@/core/page/spec";
import type { About } from "@/server/services/pages/answer";
import { Notice } from "@/ui/Notice";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { type Asking, aboutAsked } from "./asking";

// A visitor loads what their page shows, and no more.
const SearchView = dynamic(() => import("./SearchView").then((m) => m.SearchView), { loading: () => null });
const PagesView = dynamic(() => import("./PagesView").then((m) => m.PagesView), { loading: () => null });
const TilesView = dynamic(() => import("./TilesView").then((m) => m.TilesView), { loading: () => null });

type Props = { asking: Asking; changes?: { may: NonNullable<SearchSpec["changes"]>; path: string } | null };

/** What a page shows below its title, whatever it is of; asked for where it may be. */
export function PageBody({ asking, changes = null, onAbout }: Props & { onAbout?: (about: About) => void }) {
  const place = JSON.stringify(asking);
  const { answer: about, failure } = useAnswer<About>(asking.path, { ...asking.with, question: aboutAsked }, { settleMs: 60 });
  useEffect(() => {
    if (about) onAbout?.(about);
  }, [about, onAbout]);
  if (failure) return <Notice tone="wrong">{failure.message}</Notice>;
  if (!about) return <p className="text-soft">{COMMON.loading}</p>;
  const key = `${place} ${about.kind}`;
  switch (about.kind) {
    case "search":
      return <SearchView key={`${key} ${JSON.stringify(about.form)}`} asking={asking} about={about} changes={changes} />;
    case "report":
      return <PagesView key={key} asking={asking} />;
    case "dashboard":
      return <TilesView key={key} asking={asking} about={about} />;
    default:
      return about satisfies never;
  }
}
