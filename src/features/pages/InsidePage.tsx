"use client";

import { useMemo } from "react";
import type { SearchSpec } from "@/core/page/spec";
import type { Ahead } from "@/server/http/ahead";
import { AnswersAhead } from "../ahead/AnswersAhead";
import { PageHeading } from "../workspace/PageHeading";
import { PageBody } from "./PageBody";

type Props = { id: string; title: string; intro: string; changes: SearchSpec["changes"]; answers: Ahead };

/** A page as people who are signed in use it: under their own rules on rows, with what they may change. */
export function InsidePage({ id, title, intro, changes, answers }: Props) {
  const asking = useMemo(() => ({ path: `/api/pages/${id}`, with: {} }), [id]);
  const changing = useMemo(() => changes && { may: changes, path: `/api/pages/${id}/change` }, [id, changes]);
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-6xl gap-4 px-8 py-5">
        <header className="border-b border-ink pb-3">
          <PageHeading name={title} />
          {intro && <p className="whitespace-pre-wrap">{intro}</p>}
        </header>
        <AnswersAhead answers={answers}>
          <PageBody asking={asking} changes={changing} />
        </AnswersAhead>
      </div>
    </div>
  );
}
