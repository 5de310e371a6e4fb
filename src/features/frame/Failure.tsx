import { Notice } from "@/ui/Notice";

/** A page that cannot be shown: what is wrong and what to do. */
export const Failure = ({ words }: { words: string }) => (
  <div className="mx-auto max-w-xl p-10">
    <Notice tone="wrong">{words}</Notice>
  </div>
);
