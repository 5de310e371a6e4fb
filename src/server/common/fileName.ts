/** A file name out of an object's name: what file systems refuse is left out. */
export const fileName = (name: string, extension: string): string =>
  `${
    name
      .replace(/[/\\:*?"<>|\u0000-\u001f]/g, " ")
      .replace(/\s+/g, " ")
      .trim()
      .slice(0, 120) || "export"
  }.${extension}`;
