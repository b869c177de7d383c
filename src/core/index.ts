/** The public interface of the core: the names that others rely on. */
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
