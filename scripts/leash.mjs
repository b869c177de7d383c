/**
 * Loaded into every process that the start command starts: when the start command is gone, however
 * it went, so is the process. And it answers when the start command asks whether it is alive, which
 * a process that is stuck in one thing cannot.
 */
process.on('message', (message) => {
  if (message === 'alive?') process.send?.('alive', () => undefined);
  // heard here: the code that waits for it may not be read yet, and nothing is said twice
  if (message === 'prepared') process.env.HAND_STAMP_WAITS = '';
});
process.on('disconnect', () => {
  setTimeout(() => process.exit(1), 5000).unref();
  process.kill(process.pid, 'SIGTERM');
});
