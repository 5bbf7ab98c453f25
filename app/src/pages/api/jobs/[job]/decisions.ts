import { readDecisionsFile } from '@gemello/core';
import { batchChangeSchema, decideSchema, LARGEST_LIST } from '../../../../contract';
import { attachment, body, param, RequestError, route, uploadedBytes } from '../../../../server/http';
import { backTo, decide, explain, importDecisions, withdraw } from '../../../../server/jobs';
import { LARGE_TEXT, mediaThreads } from '../../../../server/media';
import { decisionsView } from '../../../../server/views';

/** The decisions that stand, as a file to be kept or brought elsewhere. */
export const GET = route(async (context) => {
  const file = await decisionsView(param(context, 'job'));
  const name = `${file.title.replace(/[^\w.-]+/g, '_') || 'job'}_decisions.json`;
  return new Response(`${JSON.stringify(file, null, 1)}\n`, {
    headers: { 'content-type': 'application/json', 'content-disposition': attachment(name) },
  });
});

export const POST = route(async (context) => {
  const { decisions, why } = await body(context, decideSchema);
  return { batch: await decide(param(context, 'job'), decisions, undefined, why) };
});

/** Takes in a file of decisions. */
export const PUT = route(async (context) => {
  const text = new TextDecoder().decode(await uploadedBytes(context.request, LARGEST_LIST, 'The file of decisions'));
  const read = text.length > LARGE_TEXT ? await mediaThreads().readDecisions(text) : readDecisionsFile(text);
  if ('problem' in read) throw new RequestError(422, read.problem);
  const { decisions, events } = read.file;
  if (decisions.length === 0) throw new RequestError(422, 'The file holds no decision.');
  return { batch: await importDecisions(param(context, 'job'), decisions, events), decisions: decisions.length };
});

/** Withdraws a batch, takes its withdrawal back, goes back to it, or says why it was decided. */
export const PATCH = route(async (context) => {
  const asked = await body(context, batchChangeSchema);
  if ('why' in asked) return explain(param(context, 'job'), asked.batch, asked.why);
  const { batch, what } = asked;
  return what === 'after' ? backTo(param(context, 'job'), batch) : withdraw(param(context, 'job'), batch, what);
});
