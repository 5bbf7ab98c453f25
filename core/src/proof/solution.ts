/** Solves a few equations, the right side last in each row (Gauss and Jordan, the largest head first); null where they say nothing. */
export function solution(equations: readonly Float64Array[]): number[] | null {
  const rows: Float64Array[] = equations.map((row) => row.slice());
  const many = rows.length;
  const at = (r: number, c: number): number => (rows[r] as Float64Array)[c] as number;
  for (let i = 0; i < many; i++) {
    let pivot = i;
    for (let r = i + 1; r < many; r++) if (Math.abs(at(r, i)) > Math.abs(at(pivot, i))) pivot = r;
    [rows[i], rows[pivot]] = [rows[pivot] as Float64Array, rows[i] as Float64Array];
    const head = at(i, i);
    if (Math.abs(head) < 1e-12) return null;
    for (let r = 0; r < many; r++) {
      if (r === i) continue;
      const factor = at(r, i) / head;
      for (let c = i; c <= many; c++) (rows[r] as Float64Array)[c] = at(r, c) - factor * at(i, c);
    }
  }
  return rows.map((row, i) => (row[many] as number) / (row[i] as number));
}
