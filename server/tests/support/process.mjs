// Stands in for the process that runs tasks: does what its input says.
import { writeFileSync } from 'node:fs';

const held = [];
process.on('message', ({ input }) => {
  const { what, ms = 0, note } = input;
  if (note) writeFileSync(note, 'begun');
  if (what === 'spin') for (;;);
  if (what === 'crash') process.exit(3);
  if (what === 'grow') {
    setInterval(() => held.push(Buffer.alloc(64 * 1024 ** 2, 1)), 20);
    return;
  }
  if (what === 'refuse') {
    process.send({ problem: { code: 'bad', message: 'No.', remedy: 'Do not.', facts: { n: 1 } } });
    return;
  }
  process.send({ progress: { done: 1, total: 2 } });
  setTimeout(() => process.send({ ok: process.pid }), ms);
});
process.on('disconnect', () => process.exit(0));
