export { ApiError, ask, send } from '../../contract/client';
