const LONGEST_NAME = 120;

/** A name as it can stand in one line of text: control characters are shown as `?`, and it is cut where it is long. */
export const printable = (name: string): string => {
  const plain = name.replaceAll(/[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]/gu, '?');
  return plain.length > LONGEST_NAME ? `${plain.slice(0, LONGEST_NAME)}…` : plain;
};
