import hanging from './hanging';

/** The same drive, on threads that take a second to start, as on a busy machine. */
Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1000);
export default hanging;
