/** Frames every picture of a file and writes it beside, in a process that does nothing else: its peak memory is told in MB. */
import { readFileSync, writeFileSync } from 'node:fs';
import { openFile, withFrames } from '@gable/formats';
import { circled } from './measure';

const [from, to] = process.argv.slice(2);
const opened = openFile(readFileSync(from!), { read: 'pictures' });
writeFileSync(to!, opened.write(withFrames(opened, circled(opened))));
console.log(Math.round(process.resourceUsage().maxRSS / 1024));
