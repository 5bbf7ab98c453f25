/** The remainders of all bytes by the polynomial 0xEDB88320 (CRC-32 of ISO 3309, as archives use it). */
const REMAINDERS = Uint32Array.from({ length: 256 }, (_, byte) => {
  let rest = byte;
  for (let bit = 0; bit < 8; bit++) rest = rest & 1 ? (rest >>> 1) ^ 0xedb88320 : rest >>> 1;
  return rest;
});

/** CRC-32 of bytes, 0 to 2^32 - 1: 0xCBF43926 for the digits 1 to 9 (the published check value). */
export function crc32(bytes: Uint8Array): number {
  let rest = 0xffffffff;
  for (let i = 0; i < bytes.length; i++) rest = (rest >>> 8) ^ (REMAINDERS[(rest ^ (bytes[i] as number)) & 255] as number);
  return (rest ^ 0xffffffff) >>> 0;
}
