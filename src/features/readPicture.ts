import { toast } from "sonner";
import { isPicture, MOST_PICTURE_BYTES } from "@/core/types/picture";
import { COMMON } from "./words";

/** A PNG or JPEG out of a file, in base64, with the name it goes by; null where it is none or too large, which is said. */
export async function readPicture(file: File | undefined): Promise<{ data: string; alt: string } | null> {
  if (!file) return null;
  const refused = (words: string) => {
    toast.error(words);
    return null;
  };
  // A file that is too large is not even read.
  if (file.size > MOST_PICTURE_BYTES) return refused(COMMON.pictureTooLarge(file.name));
  const bytes = new Uint8Array(await file.arrayBuffer());
  const data = btoa(Array.from(bytes, (b) => String.fromCharCode(b)).join(""));
  // By what it holds, not by its name.
  if (!isPicture(data)) return refused(COMMON.pictureType(file.name));
  const whole = await createImageBitmap(file).then(
    (image) => image.width > 0,
    () => false,
  );
  return whole ? { data, alt: file.name.replace(/\.[^.]*$/, "").slice(0, 200) } : refused(COMMON.pictureDamaged(file.name));
}
