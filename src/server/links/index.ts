/**
 * Links of ours: made, followed, counted and pointed elsewhere. Addresses under which pictures of
 * codes are given; whether the addresses in codes open; under which names we are reached.
 */
export { startAskingLinks } from './asking';
export { changeLinks, makeLink, markLinksPrinted, undoLinks } from './changing';
export { codeAt, givePictures } from './code-addresses';
export { writeScans } from './counting';
export { followLink } from './following';
export { changeOurAddresses, effectOfAddresses } from './our-addresses';
export { noPageHere, plainPage, strangerPage } from './plain-page';
export { linkTasks } from './tasks';
export { linkCounts, linksAfter, listLinks, viewLink } from './views';
