/** The words of this section, as a person reads them. */
export const WORDS = {
  the: (noun: string | number) => `The ${noun}`,
  gone: (kind: string | number) => `This ${kind} does not exist any more, or it is not shared with you.`,
} as const;
