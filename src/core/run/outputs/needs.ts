import type { Mail } from '../../mail/mail';
import type { Piece } from '../../piece/model';
import { onGround } from '../../grounds';
import type { Stamp } from '../../payload/stamp';
import { stampsInMail } from './mail-codes';
import type { OutputDescription } from './description';

/** Of what an output is made, and so which verdicts on a record count for it. */
export interface OutputNeeds {
  /** It shows the piece: problems there keep a record back. */
  piece: boolean;
  /** It shows the codes of all stamps, or of stamps that are not on the piece. */
  codes: boolean;
}

/** What an output needs of each record. */
export function needsOf(
  output: OutputDescription,
  piece: Piece,
  stamps: readonly Stamp[],
  mail: Mail,
): OutputNeeds {
  if (output.delivers !== 'mail') return { piece: output.piece === true, codes: !output.piece };
  const borne = onGround(piece).stampsOn(piece);
  const asPage = piece.ground?.kind === 'html' && mail.says !== 'words';
  return {
    piece: asPage || mail.attach !== undefined,
    codes: !asPage && stampsInMail(mail, stamps, borne).some((stamp) => !borne.includes(stamp.id)),
  };
}
