/**
 * The address of a file (RFC 8089): `/mnt/A b.mov` is `file:///mnt/A%20b.mov`, `E:\\back\\A.mov` is `file:///E:/back/A.mov`, `\\\\nas\\back` a
 * host with its share.
 */
export function fileUrl(path: string): string {
  const slashed = path.replaceAll('\\', '/');
  const parts = slashed.split('/').map((part) => (/^[A-Za-z]:$/.test(part) ? part : encodeURIComponent(part)));
  const plain = parts.join('/');
  if (slashed.startsWith('//')) return `file:${plain}`;
  return `file://${plain.startsWith('/') ? '' : '/'}${plain}`;
}

/** A path inside a folder, as the machine that the folder is on writes paths. */
export function pathIn(folder: string, ...names: readonly string[]): string {
  const separator = /^[A-Za-z]:|\\/.test(folder) && !folder.includes('/') ? '\\' : '/';
  return [folder.replace(/[\\/]+$/, ''), ...names.filter((n) => n !== '')].join(separator);
}
