import { Notice } from "@/ui/Notice";
import { PlaceName } from "../workspace/PageHeading";
import { WORDS } from "./words";

/** A page that cannot be shown: what is wrong and what to do. */
export const Failure = ({ words }: { words: string }) => (
  <div className="mx-auto max-w-xl p-10">
    <PlaceName name={WORDS.notAvailable} />
    <Notice tone="wrong">{words}</Notice>
  </div>
);
