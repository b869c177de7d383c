import { benchLabels } from './labels';
import { benchQr } from './qr';

const only = process.argv[2];
if (!only || only === 'qr') benchQr();
if (!only || only === 'labels') await benchLabels();
