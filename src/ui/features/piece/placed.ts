/** What was just put on the piece in this window, until the piece shows it as chosen. */
export const placed: { id: string | undefined } = { id: undefined };
