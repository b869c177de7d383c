/** Addresses under which pictures of codes are given, and whether the addresses in codes open. */
export {
  addressesOf,
  addressRows,
  codeAt,
  giveAddresses,
  withdrawAddresses,
} from './code-addresses';
export { doorReport, startAsking, stopAsking } from './door';
export { linkTasks } from './tasks';
