import { beforeEach, describe, expect, it } from 'vitest';
import { useNotes } from './noting';

const { write, settle } = useNotes.getState();
const draft = () => useNotes.getState().notes['/a.mov'];
beforeEach(() => useNotes.setState({ notes: {} }));

describe('what is being written', () => {
  it('knows what stood there when it was begun, whatever is saved by others meanwhile', () => {
    write('/a.mov', 'f', 'theirs, before');
    write('/a.mov', 'fl', 'theirs, later');
    expect(draft()).toEqual({ text: 'fl', over: 'theirs, before' });
  });
  it('is gone once it is saved', () => {
    write('/a.mov', 'flare', '');
    settle('/a.mov', 'flare');
    expect(draft()).toBeUndefined();
  });
  it('is kept where it was written on while it was being saved, over what was saved', () => {
    write('/a.mov', 'flare', '');
    write('/a.mov', 'flare at the end', '');
    settle('/a.mov', 'flare');
    expect(draft()).toEqual({ text: 'flare at the end', over: 'flare' });
  });
  it('is each clip’s own', () => {
    write('/a.mov', 'flare', '');
    write('/b.mov', 'dust', '');
    settle('/b.mov', 'dust');
    expect(draft()).toEqual({ text: 'flare', over: '' });
  });
});
