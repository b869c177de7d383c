export { ApiError, ask, send, signedOutEvent } from '../../contract/client';
