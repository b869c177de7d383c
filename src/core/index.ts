/** The public face of the core: what others rely on by name. */
export {
  encode,
  explainFit,
  expectedRead,
  symbologies,
  symbologyIds,
  EncodeError,
} from './symbology';
export type { CodeSymbol, EncodeOptions, Fit, SymbologyId } from './symbology';
export { renderSvg } from './artwork/svg';
export { renderPng } from './artwork/png';
export type { Look } from './look/look';
