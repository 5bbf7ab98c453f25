import { type EventProof, strangersAmong } from '@gemello/core';
import { type ProofSummary, type ProvePayload, proofSteps, type Report, type StopSignal, searchElsewhere, withFound } from '../src';

/** A proof on this thread alone: the steps that `proveAbreast` hands to several, one after the other. */
export function prove(payload: ProvePayload, report: Report, signal: StopSignal): ProofSummary & { events: EventProof[] } {
  const events: EventProof[] = [];
  const steps = proofSteps(payload, report, signal);
  for (;;) {
    const step = steps.next();
    if (step.done) {
      const among = payload.originals.map((o) => o.path);
      const { found } = searchElsewhere({ ...payload, events: strangersAmong(events).map((e) => e.event), among }, report, signal);
      const inOrder = payload.list.tracks.flatMap((t) => t.events.map((e) => e.key));
      events.sort((a, b) => inOrder.indexOf(a.event) - inOrder.indexOf(b.event));
      return { ...step.value, events: events.map((e) => withFound(e, found[e.event], null)) };
    }
    events.push(step.value);
  }
}
