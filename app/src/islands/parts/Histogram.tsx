import { area, curveStep, max, scaleLinear } from 'd3';
import { useEffect, useState } from 'react';

const BINS = 64;
const COLOURS = ['#e0604f', '#5fb96a', '#5b8de0'] as const;

/** How the code values of a picture are spread, black at the left, white at the right; one curve a channel. */
export function Histogram({ address }: { address: string }) {
  const [bins, setBins] = useState<number[][] | null>(null);
  useEffect(() => {
    let current = true;
    const image = new Image();
    image.onload = () => current && setBins(count(image));
    image.onerror = () => current && setBins(null);
    image.src = address;
    return () => {
      current = false;
    };
  }, [address]);
  const [width, height] = [320, 86];
  const top = max(bins?.flat() ?? []) || 1;
  const x = scaleLinear().domain([0, BINS]).range([0, width]);
  const y = scaleLinear().domain([0, top]).range([height, 2]);
  const path = area<number>()
    .x((_, i) => x(i))
    .y0(height)
    .y1((n) => y(n))
    .curve(curveStep);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="w-full bg-black"
      role="img"
      aria-label="Spread of code values in red, green and blue"
    >
      <title>Spread of code values: black at the left, white at the right</title>
      {[0.25, 0.5, 0.75].map((t) => (
        <line key={t} x1={t * width} x2={t * width} y2={height} stroke="#3a3a3a" />
      ))}
      {bins?.map((channel, i) => (
        <path key={COLOURS[i]} d={path(channel) ?? ''} fill={COLOURS[i]} opacity={0.55} style={{ mixBlendMode: 'screen' }} />
      ))}
    </svg>
  );
}

function count(image: HTMLImageElement): number[][] | null {
  const canvas = document.createElement('canvas');
  canvas.width = image.naturalWidth;
  canvas.height = image.naturalHeight;
  const context = canvas.getContext('2d');
  if (!context) return null;
  context.drawImage(image, 0, 0);
  const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
  const bins = COLOURS.map(() => new Array<number>(BINS).fill(0));
  for (let i = 0; i < data.length; i += 4)
    for (let channel = 0; channel < 3; channel++) {
      const bin = bins[channel];
      const at = ((data[i + channel] ?? 0) * BINS) >> 8;
      if (bin) bin[at] = (bin[at] ?? 0) + 1;
    }
  return bins;
}
