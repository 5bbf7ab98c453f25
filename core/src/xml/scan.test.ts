import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bytesOf, SAMPLES } from '../../test/outside';
import { parsed, serialized } from '.';
import { scanned } from './scan';

/** What the quick way through a plain text gives is what the full parser (saxes) gives; what it leaves, that one decides. */
const DEEPEST = 400;
const same = (text: string): boolean => {
  const quick = scanned(text, DEEPEST);
  if (quick) expect(quick).toEqual(parsed(text));
  return quick !== null;
};

const name = fc.constantFrom('a', 'clipitem', 'rate', 'x-1', 'y_2', 'z.3');
const words = fc.oneof(fc.constantFrom('', ' ', '\n', 'salt pans', ' a < b & "c" ', 'ö → 盐', '\r\n x\t'), fc.string({ maxLength: 12 }));
// biome-ignore lint/suspicious/noControlCharactersInRegex: they are what no XML has
const NO_XML = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff\ud800-\udfff]/g;
const escaped = (text: string) => text.replace(NO_XML, '').replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/]]>/g, '');
const { tree } = fc.letrec<{ tree: string }>((tie) => ({
  tree: fc
    .record({
      name,
      attributes: fc.uniqueArray(fc.tuple(name, words), { maxLength: 2, selector: ([n]) => n }),
      inside: fc.array(
        fc.oneof(
          { depthSize: 'small', withCrossShrink: true },
          words.map(escaped),
          tie('tree'),
          fc.constantFrom('<!-- no -->', '<![CDATA[ <b> & ]]>', '<?do it?>', '&#65;&#x2192;'),
        ),
        {
          maxLength: 5,
        },
      ),
    })
    .map(({ name: n, attributes, inside }) => {
      const said = attributes.map(([of, value]) => ` ${of}="${escaped(value).replace(/"/g, '&quot;')}"`).join('');
      return inside.length === 0 ? `<${n}${said}/>` : `<${n}${said}>${inside.join('')}</${n}>`;
    }),
}));

describe('the quick way through plain XML', () => {
  it('gives what the full parser gives, and takes most of what lists hold', () => {
    let quick = 0;
    fc.assert(
      fc.property(tree, fc.constantFrom('', '<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE xmeml>\n'), (text, head) => {
        if (same(head + text)) quick++;
      }),
      { numRuns: 500, seed: 3 },
    );
    expect(quick).toBeGreaterThan(250);
  });
  it('never takes what the full parser refuses, however a text is torn or changed', () => {
    const whole =
      '<?xml version="1.0"?><!DOCTYPE xmeml><xmeml version="5"><a id="1">x &lt; y</a><!-- c --><b><![CDATA[z]]></b><c/></xmeml>';
    fc.assert(
      fc.property(
        fc.nat(whole.length),
        fc.nat(whole.length),
        fc.constantFrom('', '<', '>', '&', '"', '/', '!', '?', ' ', '\0', ']]>', '--', '=', 'é', '&nbsp;', '<a>', '</a>'),
        (from, to, put) => {
          same(whole.slice(0, Math.min(from, to)) + put + whole.slice(Math.max(from, to)));
          same(whole.slice(0, from) + put + whole.slice(from));
        },
      ),
      { numRuns: 4000, seed: 4 },
    );
  });
  it('takes the lists that others made', () => {
    const lists = SAMPLES.filter((s) => s.extension === 'xml');
    expect(lists.length).toBeGreaterThan(5);
    for (const sample of lists)
      expect({ hash: sample.hash, quick: same(new TextDecoder().decode(bytesOf(sample))) }).toEqual({ hash: sample.hash, quick: true });
  });
  it('writes an element as text that is read as the same', () => {
    fc.assert(
      fc.property(tree, (text) => {
        const read = parsed(text);
        if ('fault' in read || read.children.some((c) => c.text !== '') || read.text !== '') return;
        const again = parsed(serialized(read));
        expect({ ...again, line: 0 }).toMatchObject({ name: read.name, attributes: read.attributes });
      }),
      { numRuns: 200, seed: 5 },
    );
  });
});
