/** What is asked for one page, and where it is printed: a report turns its pages, letters one after the other. */
export const VIEWED = {
  report: { path: "/api/report/pages", body: (at: number) => ({ from: at + 1, to: at + 1 }), print: "/api/report/export", noun: "page" },
  letter: { path: "/api/letters/page", body: (at: number) => ({ at }), print: "/api/letters/export", noun: "letter" },
} as const;

/** What is asked for a page of a saved report, or one of its letters, by those who only look. */
export const viewAsked = (kind: keyof typeof VIEWED, object: string, at: number) => ({ path: VIEWED[kind].path, body: { object, ...VIEWED[kind].body(at) } });
