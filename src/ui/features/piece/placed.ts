/** The element that was just added in this window, until the piece shows it selected. */
export const placed: { id: string | undefined } = { id: undefined };
