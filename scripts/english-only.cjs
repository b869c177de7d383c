/**
 * Leaves only the English words in what the controls' library says by itself ("Show suggestions",
 * "Increase"): the interface is in English, and the thirty-three other languages are a tenth of
 * its script. A loader for the bundler, which hands it each of the library's tables of languages.
 */
module.exports = (source) =>
  source
    .split('\n')
    .filter((line) => !/^import .*\/(?!en-US)[a-z]{2}-[A-Z]{2}\.mjs";$/.test(line))
    .filter((line) => !/^\s*"(?!en-US)[a-z]{2}-[A-Z]{2}": /.test(line))
    .join('\n');
