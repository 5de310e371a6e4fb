/** The words of this section, as a person reads them. */
export const WORDS = {
  cellMenu: "Menu of the cell",
  widthOf: (heading: string | number) => `Width of ${heading}: drag, or double-click to fit`,
  doubleClickOrPressEnter: "Double-click or press Enter to open the folio",
  footing: "Footing",
  hideMargin: "Hide margin",
  margin: "Margin",
  menuOf: (heading: string | number) => `Menu of ${heading}`,
  row: "Row",
  showMargin: "Show margin",
} as const;
