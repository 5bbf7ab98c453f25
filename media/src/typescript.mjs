// What a thread is begun with so that it reads TypeScript: tsx by itself does that for the first thread of a program alone.
import { register } from 'tsx/esm/api';

register();
