/** One element: its name, attributes, children, text, and the line (from 1) it begins on. */
export interface Node {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly Node[];
  readonly text: string;
  readonly line: number;
}
