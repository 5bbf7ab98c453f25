import { BlockList, isIPv6 } from 'node:net';

const own = new BlockList();
own.addSubnet('127.0.0.0', 8, 'ipv4');
own.addAddress('::1', 'ipv6');

/** True for an address of this machine's own (RFC 1122, RFC 4291), whichever way a socket writes it. */
export const isOwnAddress = (address: string): boolean => {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
  return own.check(plain, isIPv6(plain) ? 'ipv6' : 'ipv4');
};

/** True for the names by which this machine calls itself; a port may follow. */
export const isOwnName = (host: string | null): boolean => ['127.0.0.1', 'localhost', '[::1]'].includes((host ?? '').replace(/:\d+$/, ''));
