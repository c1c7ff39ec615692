/** What this room says, screen by screen: the one place to translate. */
export const words = {
  dialog: {
    close: "Close",
  },
};
