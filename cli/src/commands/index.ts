import type { Command } from '../command';
import { addCommand } from './add';
import { composeCommand, schemaCommand } from './compose';
import { cutCommand } from './cut';
import { frameCommand } from './frame';
import { groupCommand } from './group';
import { lookCommand } from './look';
import { newCommand } from './new';
import { pageCommand } from './page';
import { piecesCommand } from './pieces';
import { putCommand } from './put';
import { rankCommand } from './rank';
import { renderCommand } from './render';
import { shapesCommand } from './shapes';
import { surveyCommand } from './survey';
import { videoCommand } from './video';

/** Every command, in the order of `gable help`. */
export const COMMANDS: readonly Command[] = [
  surveyCommand,
  frameCommand,
  newCommand,
  putCommand,
  addCommand,
  videoCommand,
  groupCommand,
  composeCommand,
  renderCommand,
  pageCommand,
  rankCommand,
  lookCommand,
  cutCommand,
  shapesCommand,
  piecesCommand,
  schemaCommand,
];
