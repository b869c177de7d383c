import { defineTask } from '../platform';
import { assembleRunCard, makeChunkCard } from './cards';
import { assembleRun, endRun, runChunk } from './making';

export const runTasks = [
  defineTask(
    makeChunkCard,
    (db, p) => runChunk(db, p.run, p.chunk),
    (db, p, why) => endRun(db, p.run, why),
  ),
  defineTask(
    assembleRunCard,
    (db, p) => assembleRun(db, p.run),
    (db, p, why) => endRun(db, p.run, why),
  ),
];
