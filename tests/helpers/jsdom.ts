/** What browsers have and jsdom lacks (CSSOM, 2.1): ids of options are escaped for selectors. */
if (typeof CSS === 'undefined')
  Object.assign(globalThis, {
    CSS: { escape: (text: string) => text.replace(/[^\w-]/g, '\\$&').replace(/^\d/, '\\3$& ') },
  });
