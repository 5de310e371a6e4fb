/** The words of this section, as a person reads them. */
export const WORDS = {
  doubleClickOrPressEnter: "Double-click or press Enter to open the folio",
  footing: "Footing",
  hideMargin: "Hide margin",
  margin: "Margin",
  menuOf: (heading: string | number) => `Menu of ${heading}`,
  row: "Row",
  showMargin: "Show margin",
} as const;
