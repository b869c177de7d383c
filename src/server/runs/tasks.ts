import { defineTask } from '../platform';
import { readPaperCard } from '../sources';
import { assembleRunCard, makeChunkCard } from './cards';
import { assembleRun, endRun, runChunk } from './making';
import { failPaperFile, readPaperFile } from './paper-files';

export const runTasks = [
  defineTask(
    makeChunkCard,
    (db, p) => runChunk(db, p.run, p.chunk),
    (db, p, why, final) => endRun(db, p.run, why, final),
  ),
  defineTask(
    assembleRunCard,
    (db, p) => assembleRun(db, p.run),
    (db, p, why, final) => endRun(db, p.run, why, final),
  ),
  defineTask(
    readPaperCard,
    (db, { file }) => readPaperFile(db, file),
    (db, { file }, why) => failPaperFile(db, file, `It could not be read: ${why}.`),
  ),
];
