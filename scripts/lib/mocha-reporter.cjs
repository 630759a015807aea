// Mocha's own listing, then the processor time of each file beside what it is meant to take, closed by a line that says how
// many passed and failed.
const { relative } = require('node:path');
const { reporters } = require('mocha');

module.exports = class Reporter extends reporters.Dot {
  constructor(runner, options) {
    super(runner, options);
    const seconds = new Map();
    let begun = process.cpuUsage();
    const spent = ({ file }) => {
      const { user, system } = process.cpuUsage(begun);
      begun = process.cpuUsage();
      const name = file ? relative(process.cwd(), file) : 'other';
      seconds.set(name, (seconds.get(name) ?? 0) + (user + system) / 1e6);
    };
    runner.on('test', () => (begun = process.cpuUsage()));
    runner.on('test end', spent);
    runner.once('end', () => {
      for (const [name, took] of seconds) if (took >= 1) process.stdout.write(`took ${took.toFixed(1)} s: ${name}\n`);
      process.stdout.write(`${this.stats.passes} passed, ${this.stats.failures} failed\n`);
    });
  }
};
