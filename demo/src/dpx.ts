/** Writes one 10-bit R, G, B frame as DPX (SMPTE ST 268-1, big-endian, packing method A, descriptor 50). */
export function dpxFrame(
  rgba: Uint8ClampedArray,
  width: number,
  height: number,
  fields: { timecode: string; framesPerSecond: number; device: string; name: string; position: number },
): Buffer {
  const file = Buffer.alloc(2048 + width * height * 4, 0);
  file.fill(0xff, 4, 2048);
  const text = (at: number, length: number, value: string) => {
    file.fill(0, at, at + length);
    file.write(value.slice(0, length - 1), at, 'latin1');
  };
  file.write('SDPX', 0, 'latin1');
  file.writeUInt32BE(2048, 4);
  text(8, 8, 'V1.0');
  file.writeUInt32BE(file.length, 16);
  file.writeUInt32BE(1, 20);
  file.writeUInt32BE(1664, 24);
  file.writeUInt32BE(384, 28);
  file.writeUInt32BE(0, 32);
  text(36, 100, fields.name);
  for (const [at, length] of [
    [136, 24],
    [160, 100],
    [260, 200],
    [460, 200],
  ] as const)
    text(at, length, '');
  file.writeUInt16BE(0, 768);
  file.writeUInt16BE(1, 770);
  file.writeUInt32BE(width, 772);
  file.writeUInt32BE(height, 776);
  file.writeUInt32BE(0, 780);
  file.writeUInt8(50, 800);
  file.writeUInt8(6, 801);
  file.writeUInt8(6, 802);
  file.writeUInt8(10, 803);
  file.writeUInt16BE(1, 804);
  file.writeUInt16BE(0, 806);
  file.writeUInt32BE(2048, 808);
  text(1432, 100, fields.name);
  text(1556, 32, fields.device);
  file.writeUInt32BE(fields.position, 1712);
  file.writeFloatBE(fields.framesPerSecond, 1724);
  file.writeUInt32BE(Number.parseInt(fields.timecode.replace(/\D/g, ''), 16), 1920);
  file.writeFloatBE(fields.framesPerSecond, 1940);
  const pixels = new DataView(file.buffer, file.byteOffset + 2048);
  for (let from = 0, to = 0; from < rgba.length; from += 4, to += 4)
    pixels.setUint32(to, (tenBits(rgba[from]) << 22) | (tenBits(rgba[from + 1]) << 12) | (tenBits(rgba[from + 2]) << 2));
  return file;
}

function tenBits(v = 0): number {
  return (v << 2) | (v >> 6);
}
