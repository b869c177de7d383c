/**
 * Short links: created, followed, counted and changed. Web addresses of code pictures; checks
 * whether the addresses in codes open; the addresses of this installation.
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
