/**
 * Says of tests that they passed only when they were tried again, so that nobody takes them for
 * sound.
 */
export default class FlakyReporter {
  flaky = [];
  onTestCaseResult(test) {
    if (test.diagnostic()?.flaky) this.flaky.push(test.fullName);
  }
  onTestRunEnd() {
    for (const name of this.flaky)
      console.log(`[hand-stamp] Passed only when it was tried again: ${name}`);
  }
}
