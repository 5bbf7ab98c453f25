/** The part of the package that the tests compare with; it ships no types of its own. */
declare module 'smpte-timecode' {
  export default function Timecode(
    frames: number | string,
    frameRate: number,
    dropFrame: boolean,
  ): { toString(): string; frameCount: number };
}
