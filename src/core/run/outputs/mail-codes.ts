import type { Mail } from '../../mail/mail';
import type { Stamp } from '../../payload/stamp';

/**
 * The stamps whose codes are in an email: the chosen ones, else those on the job's piece, else all.
 * @param borne ids of those on the piece
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
