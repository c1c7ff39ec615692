import type { Part } from "../ui/locale";

/** What this room says, screen by screen: the one place to translate. */
export const words = {
  openPhoto: {
    openAPhoto: "Open a photo",
    beginWithAPhotoOf: "Begin with a photo of boxes, cylinders or a building.",
    chooseOneDropItHere:
      "Choose one, drop it here, or paste it. JPEG, PNG, WebP or HEIC, up to 50 megapixels; location and other personal tags are removed. Ask before you photograph people or homes.",
  },
  sheetCard: {
    open: (title: Part) => `Open ${title}`,
    fromLife: "from life",
    newTitleOf: (title: Part) => `New title of ${title}`,
    untitled: "Untitled",
    sighting: "sighting",
    sightings: "sightings",
    onPaper: " · on paper",
    drawing: "drawing",
    drawings: "drawings",
    rename: (title: Part) => `Rename ${title}`,
    rename2: "Rename",
    duplicate: (title: Part) => `Duplicate ${title}`,
    duplicate2: "Duplicate",
    deleteWord: (title: Part) => `Delete ${title}`,
    deleteWord2: "Delete",
  },
  sheetsScreen: {
    fromLife: "From life",
    atTheEaselWithoutA: "At the easel, without a photo: stick or gauge, thumb, and the near corner on a card.",
    aDrawingOnPaperBelongs:
      "A drawing on paper belongs to the sheet of its subject, under “Paper”. One from imagination?",
    bringItInByItself: "Bring it in by itself",
    worksheets: "Worksheets",
    arePrintedAndBroughtBack: "are printed and brought back on a page of their own.",
    tryAgain: "Try again",
    isDeleted: (title: Part) => `“${title}” is deleted.`,
    bringItBack: "Bring it back",
    sheets: "Sheets",
  },
};
