/**
 * Loaded into every process that the start command starts: when the start command is gone, however
 * it went, so is the process.
 */
process.on('disconnect', () => {
  setTimeout(() => process.exit(1), 5000).unref();
  process.kill(process.pid, 'SIGTERM');
});
