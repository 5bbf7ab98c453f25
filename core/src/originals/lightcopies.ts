import type { Raster } from '../edit';
import type { Original } from './model';

/** What proxies are written as, all in QuickTime: small and quick to send, or every frame by itself in 8 or 10 bits. */
export const PROXY_CODECS = ['proxy-small', 'proxy-8bit', 'proxy-10bit'] as const;
export type ProxyCodec = (typeof PROXY_CODECS)[number];

/** About how many bytes a pixel of a proxy takes in a frame; measured on drawn pictures, with room above. */
export const PROXY_BYTES: Readonly<Record<ProxyCodec, number>> = { 'proxy-small': 0.02, 'proxy-8bit': 0.1, 'proxy-10bit': 0.1 };

/** How large proxies are: a part of the original's raster, or a width in pixels that smaller originals keep below. */
export const PROXY_SIZES = ['half', 'quarter', '1280', '960', '640'] as const;
export type ProxySize = (typeof PROXY_SIZES)[number];

/** The codecs in use need at least this width, in pixels. */
const NARROWEST = 256;

/** The raster of a proxy: square pixels, even numbers, never larger than the original's. */
export function proxyRaster({ raster, pixelAspect }: Pick<Original, 'raster' | 'pixelAspect'>, size: ProxySize): Raster {
  const shown = raster.width * (pixelAspect ?? 1);
  const asked = size === 'half' ? shown / 2 : size === 'quarter' ? shown / 4 : Number(size);
  const width = Math.min(shown, Math.max(asked, Math.min(shown, NARROWEST)));
  const even = (n: number) => Math.max(2, Math.round(n / 2) * 2);
  return { width: even(width), height: even((width * raster.height) / shown) };
}
