/** The largest picture that a description holds, in bytes; in base64 it is four thirds of that. */
export const MOST_PICTURE_BYTES = 500_000;
/** How base64 text of a PNG or a JPEG begins. */
export const PICTURE_DATA = /^(iVBORw0KGgo|\/9j\/)/;

/** Whether base64 text is a PNG or a JPEG, by its first bytes. */
export const isPicture = (base64: string): boolean => PICTURE_DATA.test(base64);

/** The address under which a page shows a picture. */
export const pictureAddress = (base64: string): string => `data:image/${base64.startsWith("/9j/") ? "jpeg" : "png"};base64,${base64}`;

/** Pixels across and down, from the header of a PNG (ISO/IEC 15948, 11.2.2) or of a JPEG's frame (ISO/IEC 10918-1, B.2.2); a square where it cannot be read. */
export function pictureSize(base64: string): { width: number; height: number } {
  const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  const view = new DataView(bytes.buffer);
  const size = bytes[0] === 0x89 ? pngSize(view) : jpegSize(view);
  return size && size.width > 0 && size.height > 0 ? size : { width: 1, height: 1 };
}

const pngSize = (view: DataView) => (view.byteLength < 24 ? null : { width: view.getUint32(16), height: view.getUint32(20) });

function jpegSize(view: DataView): { width: number; height: number } | null {
  for (let at = 2; at + 9 < view.byteLength && view.getUint8(at) === 0xff; ) {
    const marker = view.getUint8(at + 1);
    // Start of frame, of whatever coding, but for the markers among them that say something else.
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) return { height: view.getUint16(at + 5), width: view.getUint16(at + 7) };
    at += 2 + view.getUint16(at + 2);
  }
  return null;
}
