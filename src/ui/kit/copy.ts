import { copy as wording } from './words';
/** The message if the browser does not allow copying. */
export const notCopied = wording.yourBrowserBlockedCopying;

/**
 * Copies text. Browsers let only pages do so that they reached over HTTPS or on this very machine,
 * and ask at times.
 *
 * @returns whether it was copied; it never fails
 */
export async function copyText(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return false;
  }
}
