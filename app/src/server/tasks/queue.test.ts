import { openQueue } from './queue';
import { queueContract } from './queue.contract';

queueContract('The queue of this process', openQueue);
