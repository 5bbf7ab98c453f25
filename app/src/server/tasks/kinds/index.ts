import type { TaskKind } from '../../../contract/tasks';
import type { Kind } from '../kind';
import { checksums } from './checksums';
import { compare } from './compare';
import { copies } from './copies';
import { cuts } from './cuts';
import { proof } from './proof';
import { proofReport } from './proof-report';
import { proxies } from './proxies';
import { rebuild } from './rebuild';
import { recognise } from './recognise';
import { returning } from './return';
import { review } from './review';
import { scan } from './scan';
import { search } from './search';

/** Every kind of task. A new one has its file here, its line below, and what it may be asked in the contract. */
export const KINDS: { readonly [K in TaskKind]: Kind<K> } = {
  scan,
  checksums,
  proxies,
  cuts,
  compare,
  copies,
  rebuild,
  proof,
  'proof-report': proofReport,
  return: returning,
  recognise,
  review,
  search,
};
