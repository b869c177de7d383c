/** Why an email address cannot be used, in words; undefined if it can. After RFC 5321, 4.5.3.1. */
export function addressTrouble(value: string): string | undefined {
  const text = value.trim();
  if (text === '') return 'there is no email address';
  if (/[,;]/.test(text) || (text.match(/@/g) ?? []).length > 1)
    return `“${text}” is more than one email address`;
  const [, local, domain] = /^([^\s@<>()[\]\\"]+)@([^\s@<>()[\]\\"]+)$/u.exec(text) ?? [];
  const labels = domain?.split('.') ?? [];
  const right =
    local !== undefined &&
    !/\p{C}/u.test(text) &&
    !/^\.|\.$|\.\./.test(local) &&
    new TextEncoder().encode(local).length <= 64 &&
    text.length <= 254 &&
    labels.length > 1 &&
    labels.every((label) =>
      /^[\p{L}\p{N}]([\p{L}\p{M}\p{N}-]{0,61}[\p{L}\p{M}\p{N}])?$/u.test(label),
    );
  return right ? undefined : `“${text.slice(0, 80)}” is not an email address`;
}

/** The form in which two email addresses are compared: servers ignore case. */
export const addressKey = (value: string): string => value.trim().toLowerCase();
