import { benchDocuments } from './documents';
import { benchHeap } from './heap';
import { benchLabels } from './labels';
import { benchLinks } from './links';
import { benchLoad } from './load';
import { benchQr } from './qr';
import { benchSymbologies } from './symbologies';
import { benchWorkers } from './workers';

const only = process.argv[2];
if (!only || only === 'qr') benchQr();
if (!only || only === 'symbologies') await benchSymbologies();
if (!only || only === 'heap') benchHeap();
if (!only || only === 'labels') await benchLabels();
if (!only || only === 'workers') await benchWorkers();
if (!only || only === 'links') await benchLinks();
if (!only || only === 'load') await benchLoad();
if (!only || only === 'documents') await benchDocuments();
