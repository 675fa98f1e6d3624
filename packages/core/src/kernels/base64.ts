const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** Bytes of base64 (RFC 4648, section 4). Core runs where neither `Buffer` nor `atob` can be counted on. */
export const fromBase64 = (text: string): Uint8Array<ArrayBuffer> => {
  const digits = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((digits.length * 3) / 4));
  let [held, bits, at] = [0, 0, 0];
  for (const digit of digits) {
    held = ((held << 6) | LETTERS.indexOf(digit)) & 0xffff;
    bits += 6;
    if (bits < 8) continue;
    bits -= 8;
    bytes[at++] = (held >> bits) & 0xff;
  }
  return bytes;
};
