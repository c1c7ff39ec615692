import type { Part } from "../ui/locale";

/** What this room says, screen by screen: the one place to translate. */
export const words = {
  faceSwitch: {
    facesOfASheet: "Faces of a sheet",
    bShiftB: "B, Shift B",
    onToTheSheetsNext: "On to the sheet’s next face, and back: subject, plan, paper",
    facesOfTheSheet: "Faces of the sheet",
  },
  fromPhone: {
    fromTheTelephone: "From the telephone",
    sendFromTheTelephone: "Send from the telephone",
    qrCodeOfTheLink: "QR code of the link",
    pointTheTelephonesCameraAt:
      "Point the telephone’s camera at the code, open the link and take the photo. It comes to this sheet by itself.",
    goodForThisSheetOnly: "Good for this sheet only, until",
    thisServerAnswersToThis:
      "This server answers to this machine only: a telephone cannot open the link. See “In the classroom” in the guide for tutors.",
    waitingForThePhoto: "Waiting for the photo…",
  },
  fromTutor: {
    fromTheTutor: "From the tutor",
    forWord: (title: Part) => `For “${title}”.`,
    handIn: "Hand in",
    fromTheTutorOn: (assignment: Part) => `From the tutor, on “${assignment}”:`,
    aLine: "A line",
  },
  keepDialogs: {
    oneSightingDiffers: "one sighting differs",
    sightingsDiffer: (count: Part) => `${count} sightings differ`,
    thisWasChangedInAnother: (noun: Part) => `This ${noun} was changed in another tab`,
    takeTheOtherTabs: (noun: Part) => `Take the other tab's ${noun}`,
    keepWhatIsHere: "Keep what is here",
    theLastChangeMadeHere: (noun: Part) =>
      `The last change made here is not saved. You can take the ${noun} as the other tab left it, or save what is on this screen over it. Undo brings the other back either way.`,
    thisWasDeletedElsewhere: (noun: Part) => `This ${noun} was deleted elsewhere`,
    bringItBackWithWhat: "Bring it back with what is here",
    keepWhatIsHereAs: (noun: Part) => `Keep what is here as a new ${noun}`,
    theLastChangeMadeHere2: (noun: Part) =>
      `The last change made here could not be saved, because the ${noun} was deleted in another tab. It is kept in this browser until you say what to do.`,
    unsavedChangesWereLeftBehind: "Unsaved changes were left behind",
    aVersionOfThisWas: (noun: Part) => `A version of this ${noun} was`,
    versionsOfThisWere: (count: Part, noun: Part) => `${count} versions of this ${noun} were`,
    neverSavedBeforeTheTab: "never saved before the tab was closed. Taking one up replaces what the",
    showsUndoBringsThatBack: "shows; undo brings that back.",
    fromWhatIsShown: (when: Part, differs: Part) => `${when} · ${differs} from what is shown`,
    takeItUp: "Take it up",
    letItGo: "Let it go",
  },
  nextTime: {
    notedForThisTime: "Noted for this time",
    notedOn: "Noted on “",
  },
  opening: {
    tryAgain: "Try again",
    openingThe: (noun: Part) => `Opening the ${noun}…`,
    changesMadeHereBeforeIt: "Changes made here before it was deleted are still kept in this browser.",
    bringTheBack: (noun: Part) => `Bring the ${noun} back`,
    keepTheChangesOf: "Keep the changes of",
    earlier: "earlier",
    asANew: "as a new",
  },
  photoDrop: {
    anotherPhotoIs: "another photo is",
    otherPhotosAre: (ahead: Part) => `${ahead} other photos are`,
    pastedPicture: "pasted picture",
    thePastedPicture: "The pasted picture",
    openingThePhoto: "Opening the photo",
    cancel: "Cancel",
    photoToOpen: "Photo to open",
  },
  sheetHead: {
    titleOfTheSheet: "Title of the sheet",
    untitled: "Untitled",
    undo: "Undo",
    undoCtrlZ: "Undo (Ctrl Z)",
    redo: "Redo",
    redoCtrlShiftZ: "Redo (Ctrl Shift Z)",
    notSavedYetYourWork: (words: Part) => `Not saved yet: ${words} Your work stays here.`,
    saving: "Saving…",
    saved: "Saved",
    deletedElsewhere: "Deleted elsewhere",
    changedElsewhere: "Changed elsewhere",
  },
  sheetLoader: {
    allSheets: "All sheets",
  },
  toleranceDialog: {
    tiltsTo: "Tilts to",
    lengthsTo: "Lengths to",
    ellipseDegreesTo: "Ellipse degrees to",
    tolerance: "Tolerance",
    howFarASightingMay: "How far a sighting may stray from what the others imply and still hold on this sheet.",
    ownNumbers: "Own numbers",
  },
};
