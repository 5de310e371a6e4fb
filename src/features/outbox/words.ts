/** The words of this section, as a person reads them. */
export const WORDS = {
  attachments: "Attachments",
  created: "Created",
  downloadedFromTheOutbox: "downloaded from the outbox",
  file: "File",
  from: "From",
  kB: (bytes: string | number) => `${bytes} kB`,
  nothingYet: "Nothing here yet. Files appear when a schedule runs.",
  saveMessageRFC5322: "Save message (RFC 5322)",
  size: "Size",
  thisFileIsNotIn: "This file is not in the outbox.",
  thisMessageIsNotIn: "This message is not in the outbox.",
  to: "To",
} as const;
