"use client";

import { counted } from "@/core/types/format";
import type { Maker, OutboxFile, OutboxGroup } from "@/server/services/outbox/outbox";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { fileKind, sizeOf, useMoment } from "./moments";
import { WORDS } from "./words";

type Chosen = { chosen: string | null; choose: (path: string) => void };

/** The files of the outbox by the run that made them; the one chosen stands out. */
export function FileLists({ groups, ...chosen }: { groups: OutboxGroup[] } & Chosen) {
  return (
    <ul>
      {groups.map(({ maker, files }) => (
        <li key={maker?.run ?? "others"} className="border-t border-rule py-2.5">
          {maker ? <MadeBy maker={maker} files={files.length} /> : <p className="font-semibold">{WORDS.otherFiles}</p>}
          <ul className="flex flex-wrap gap-2 pt-1.5">
            {files.map((file) => (
              <FileChip key={file.path} file={file} named={maker === null} {...chosen} />
            ))}
          </ul>
        </li>
      ))}
    </ul>
  );
}

function MadeBy({ maker, files }: { maker: Maker; files: number }) {
  const locale = useLocale();
  const moment = useMoment();
  const said = [
    moment(maker.dueAt),
    maker.rows === null ? "" : counted(maker.rows, "row", locale),
    maker.pages === null ? "" : counted(maker.pages, "page", locale),
    maker.manual ? COMMON.manual : "",
    maker.late ? WORDS.late : "",
  ];
  return (
    <>
      <p className="flex items-baseline justify-between gap-3">
        <b className="font-semibold">{maker.schedule || WORDS.deletedSchedule}</b>
        {files > 1 && (
          <a className="link shrink-0 text-small" href={`/api/outbox/all?run=${encodeURIComponent(maker.run)}`}>
            {WORDS.allFiles}
          </a>
        )}
      </p>
      <p className="text-small text-soft">{said.filter(Boolean).join(" · ")}</p>
    </>
  );
}

function FileChip({ file, named, chosen, choose }: { file: OutboxFile; named: boolean } & Chosen) {
  const { locale } = useLocale();
  const on = chosen === file.path;
  return (
    <li>
      <button
        type="button"
        aria-pressed={on}
        aria-label={WORDS.previewOf(file.name)}
        title={file.name}
        onClick={() => choose(file.path)}
        className={`rounded border px-2 py-0.5 ${on ? "border-bottle bg-bottle text-on-fill" : "border-rule bg-sheet hover:border-faint"}`}
      >
        <b className="font-semibold">{named ? file.name : fileKind(file.name)}</b>{" "}
        <span className={`text-small ${on ? "" : "text-soft"}`}>{WORDS.kB(sizeOf(file.bytes, locale))}</span>
      </button>
    </li>
  );
}
