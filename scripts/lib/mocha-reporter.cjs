// Mocha's own listing, closed by a line that says how many passed and failed.
const { reporters } = require('mocha');

module.exports = class Reporter extends reporters.Dot {
  constructor(runner, options) {
    super(runner, options);
    runner.once('end', () => process.stdout.write(`${this.stats.passes} passed, ${this.stats.failures} failed\n`));
  }
};
