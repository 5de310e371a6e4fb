import type { ComponentProps, ReactNode } from "react";
import { useAbout } from "../AboutObject";
import { type Deed, DeedsMenu } from "../DeedsMenu";
import { SavedName } from "../SavedName";
import { UndoButtons } from "../UndoButtons";
import type { SavedState } from "../useSavedObject";
import { COMMON } from "../words";
import { PageHeading } from "../workspace/PageHeading";
import { WORDS } from "./words";

type Props = {
  object: SavedState;
  looking: boolean;
  /** Whether it stands within a page that has a name of its own. */
  within: boolean;
  /** Undo and redo, while it is arranged. */
  history: ComponentProps<typeof UndoButtons> | null;
  deeds: Deed[];
  arranging: boolean;
  arrange: (on: boolean) => void;
  again: () => void;
  /** When and for whom it was read. */
  children: ReactNode;
};

function Name({ object: { stored, rename }, looking, within }: Pick<Props, "object" | "looking" | "within">) {
  if (within) return <h2 className="font-serif text-title font-semibold">{stored.name}</h2>;
  return looking ? <PageHeading name={stored.name} /> : <SavedName id={stored.id} name={stored.name} onRename={rename} />;
}

/** A dashboard's name, and what can be done with it. */
export function DashboardHead({ object, looking, within, history, deeds, arranging, arrange, again, children }: Props) {
  const { changed, save } = object;
  const about = useAbout(object);
  const builds = !looking && !within;
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 px-10 pt-4 max-md:px-4">
      <Name object={object} looking={looking} within={within} />
      <span className="text-soft">{children}</span>
      <span className="no-print ml-auto flex flex-wrap items-center gap-2">
        {history && <UndoButtons {...history} />}
        <button type="button" className="button" onClick={again}>
          {WORDS.refresh}
        </button>
        <DeedsMenu deeds={builds ? [...deeds, ...about.deeds] : deeds} />
        {!looking && (
          <button type="button" className="button" aria-pressed={arranging} onClick={() => arrange(!arranging)}>
            {arranging ? COMMON.done : WORDS.editLayout}
          </button>
        )}
        {(arranging || changed) && (
          <button type="button" className="button-primary" disabled={!changed} onClick={save}>
            {COMMON.save}
          </button>
        )}
      </span>
      {builds && about.panel}
    </div>
  );
}
