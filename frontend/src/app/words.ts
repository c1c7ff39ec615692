import type { Part } from "../ui/locale";

/** What this room says, screen by screen: the one place to translate. */
export const words = {
  astray: {
    thereIsNothingAtThis: "There is nothing at this address",
    theLinkMayBeOld:
      "The link may be old, or the sheet may have been deleted. Everything that is kept here is listed under Sheets.",
    thisScreenMetAnError: "This screen met an error",
    yourWorkIsKeptIt:
      "Your work is kept: it is saved as it changes, and what could not be sent yet lies in this browser. Loading the page again usually helps.",
    allSheets: "All sheets",
    loadAgain: "Load again",
  },
  gate: {
    tryAgain: "Try again",
    opening: "Opening…",
    signIn: "Sign in",
    youAreSignedOut: "You are signed out",
    theSignInOnThis: "The sign-in on this device has ended. What is on this page stays here; sign in and it is saved.",
  },
  keySheet: {
    keys: "Keys",
  },
  routes: {
    opening: "Opening…",
  },
  shell: {
    aspectum: "Aspectum",
    keys: "Keys",
    keys2: "Keys (?)",
    eveningClassDark: "Evening class (dark)",
    drawingRoomLight: "Drawing room (light)",
    places: "Places",
    youAndAClass: "You, and a class",
    you: "You",
    namePassphraseYourWork: "Name, passphrase, your work",
    signOut: "Sign out",
    youAreStillSignedIn: "You are still signed in",
    tryAgainBeforeSomebodyElse: (message: Part) => `${message} Try again before somebody else uses this device.`,
  },
};
