/** The words of this section, as a person reads them. */
export const WORDS = {
  data: "Data",
  ask: "Ask",
  show: "Show",
  repeat: "Repeat",
  desk: "Desk",
  help: "Help for this page",
  newPage: "New page",
  column: "column",
  thisPage: "this page",
  do: "do",
  kindOf: (kind: string, of: string) => `${kind} of ${of}`,
  menu: "Menu",
  sections: "Sections",
  skipToContent: "Skip to content",
  runsNeedALook: (count: string) => `${count} runs need a look`,
  files: (count: string) => `${count} files`,
};
