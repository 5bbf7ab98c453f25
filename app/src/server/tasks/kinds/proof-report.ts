import path from 'node:path';
import { decisionsByEvent, reportOfProof, shotsByKey } from '@gemello/core';
import { jobFolder } from '../../config';
import { RequestError } from '../../http';
import { proofMark } from '../../marks';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import { type Kind, readyToProve } from '../kind';

/** The proof as a page or a document for whoever ordered it. It is one part: after a stop it begins again. */
export const proofReport: Kind<'proof-report'> = {
  lane: () => 'background',
  keeps: 'nothing',
  async run({ jobId, options: { format }, report: progress, signal }) {
    const w = await workspace(jobId);
    const { list, conform, originals } = readyToProve(w);
    const { reference } = w;
    if (!reference) throw new RequestError(409, 'There is no reference movie that anything was proved against.');
    const shots = shotsByKey(conform);
    // What was changed after its proof is not compared any more.
    const standing = [...w.proofs].flatMap(([event, { madeFrom, proof }]) => {
      const shot = shots.get(event);
      return shot && proofMark(conform, shot, reference) === madeFrom ? [[event, proof] as const] : [];
    });
    if (standing.length === 0) throw new RequestError(409, 'Nothing is proved as it stands; prove it first.');
    const proofs = new Map(standing);
    const report = reportOfProof(list, proofs, {
      reference: reference.movie.fileName,
      made: new Date().toISOString().slice(0, 10),
      framesCompared: standing.reduce((sum, [, p]) => sum + p.framesCompared, 0),
      decisions: decisionsByEvent(w.log.decisions),
    });
    const name = `${list.title.trim().replace(/[^\p{L}\p{N}_.-]+/gu, '_') || 'cut'}_proof.${format}`;
    const { movie, lay } = reference;
    const payload = { report, list, originals, reference: { movie, lay }, file: path.join(jobFolder(jobId, 'reports'), name) };
    const { file } = await mediaThreads().writeProofReport(payload, { report: progress, signal });
    return { message: `${report.entries.length} events in ${name}`, result: { file, name } };
  },
};
