export { addressTo, ApiError, ask, send, signedOutEvent } from '../../contract/client';
