import { formatTimecode } from '@gemello/core';
import { stillSchema } from '../../../../contract';
import { attachment, param, route } from '../../../../server/http';
import { still } from '../../../../server/pictures';
import { workspace } from '../../../../server/workspace';

/** A PNG of what is seen at a record frame, as a download named by record timecode. */
export const GET = route(async (context) => {
  const { frame, show } = stillSchema.parse(Object.fromEntries(context.url.searchParams));
  const w = await workspace(param(context, 'job'));
  const png = await still(w, frame, show);
  const name = w.list ? formatTimecode(frame, w.list.rate).replace(/[:;]/g, '-') : String(frame);
  return new Response(png as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': 'image/png', 'content-disposition': attachment(`${name}.png`), 'cache-control': 'no-store' },
  });
});
