import type { Mail } from '../../mail/mail';
import type { Stamp } from '../../payload/stamp';

/**
 * The stamps whose codes stand in a mail: those that were chosen, else those that the job's piece
 * bears, else all.
 * @param borne ids of those that the piece bears
 */
export function stampsInMail(
  mail: Pick<Mail, 'codes' | 'stamps'>,
  stamps: readonly Stamp[],
  borne: readonly string[],
): Stamp[] {
  if (mail.codes === 'none') return [];
  const wanted = mail.stamps ?? borne;
  const chosen = stamps.filter((s) => wanted.includes(s.id));
  return chosen.length > 0 ? chosen : [...stamps];
}
