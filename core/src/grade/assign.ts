import type { EventDecision } from '../decisions';
import { type EditList, pictureEvents } from '../edit';
import { withoutExtension } from '../originals';
import type { NamedCdl } from './files';

/**
 * Gives grades to the events they name: a grade's id is an event's number, its clip name or its file
 * name, with or without extension. One grade may go to several events; one that names none gives no decision.
 */
export function gradeDecisions(list: EditList, grades: readonly NamedCdl[]): EventDecision[] {
  return pictureEvents(list).flatMap((event): EventDecision[] => {
    const names = [event.id, event.number, event.clipName, event.fileName].filter((n) => n !== '').map(withoutExtension);
    const grade = grades.find((g) => names.includes(withoutExtension(g.id)));
    return grade ? [{ kind: 'grade', event: event.id, cdl: grade.cdl }] : [];
  });
}
