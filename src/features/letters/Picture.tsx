import { mergeAttributes, Node } from "@tiptap/core";
import { type NodeViewProps, NodeViewWrapper, ReactNodeViewRenderer } from "@tiptap/react";
import { pictureAddress } from "@/core/types/picture";
import { BriefPopover } from "@/ui/Brief";
import { Remove } from "../editors/parts";
import { readPicture } from "../readPicture";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Attrs = { data: string; widthMm: number; alt: string; align: "center" | "right" | null };
const SIDES = { left: "justify-start", center: "justify-center", right: "justify-end" } as const;
/** On the screen a letter's text is as wide as on its paper, in this many pixels a millimetre. */
const PIXELS_PER_MM = 640 / 165;

/** Asks for a picture and gives what is chosen. */
export function PictureChoice({ words, className, use }: { words: string; className: string; use: (picture: { data: string; alt: string }) => void }) {
  return (
    <label className={`cursor-pointer ${className}`}>
      {words}
      <input
        type="file"
        accept="image/png,image/jpeg"
        className="sr-only"
        onChange={async (e) => {
          const chosen = e.target;
          const picture = await readPicture(chosen.files?.[0]);
          // The same file can be chosen once more.
          chosen.value = "";
          if (picture) use(picture);
        }}
      />
    </label>
  );
}

function PictureView({ node, updateAttributes, deleteNode }: NodeViewProps) {
  const attrs = node.attrs as Attrs;
  const set = (next: Partial<Attrs>) => updateAttributes(next);
  return (
    <NodeViewWrapper className={`my-1.5 flex ${SIDES[attrs.align ?? "left"]}`}>
      <BriefPopover
        name={WORDS.pictureOf(attrs.alt)}
        className="border border-transparent hover:border-bottle"
        onDelete={deleteNode}
        // biome-ignore lint/performance/noImgElement: a picture kept in the description itself
        label={<img src={pictureAddress(attrs.data)} alt={attrs.alt} style={{ width: attrs.widthMm * PIXELS_PER_MM }} />}
      >
        {() => (
          <div className="grid gap-2 text-small">
            <label className="grid gap-0.5">
              {WORDS.pictureWidthMm}
              <input
                className="field"
                aria-label={WORDS.pictureWidthMm}
                type="number"
                min={5}
                max={200}
                value={attrs.widthMm}
                onChange={(e) => set({ widthMm: Math.min(200, Math.max(5, Number(e.target.value))) })}
              />
            </label>
            <label className="grid gap-0.5">
              {WORDS.alternativeText}
              <input className="field" maxLength={200} value={attrs.alt} onChange={(e) => set({ alt: e.target.value })} />
            </label>
            <label className="grid gap-0.5">
              {WORDS.alignment}
              <select
                className="field"
                value={attrs.align ?? "left"}
                onChange={(e) => set({ align: e.target.value === "left" ? null : (e.target.value as "center") })}
              >
                <option value="left">{WORDS.left}</option>
                <option value="center">{WORDS.centre}</option>
                <option value="right">{WORDS.right}</option>
              </select>
            </label>
            <PictureChoice words={COMMON.replace} className="link justify-self-start focus-within:underline" use={({ data }) => set({ data })} />
            <Remove onClick={deleteNode}>{WORDS.removePicture}</Remove>
          </div>
        )}
      </BriefPopover>
    </NodeViewWrapper>
  );
}

/** A picture in the text of a letter. */
export const Picture = Node.create({
  name: "picture",
  group: "block",
  atom: true,
  addAttributes: () => ({ data: { default: "" }, widthMm: { default: 60 }, alt: { default: "" }, align: { default: null } }),
  parseHTML: () => [{ tag: "div[data-picture]" }],
  renderHTML: ({ HTMLAttributes }) => ["div", mergeAttributes({ "data-picture": HTMLAttributes.alt })],
  addNodeView: () => ReactNodeViewRenderer(PictureView),
});
