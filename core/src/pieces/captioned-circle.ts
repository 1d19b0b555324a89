import { nameBelow } from './name-below';
import type { Piece } from './piece';

export const captionedCircle: Piece = {
  name: 'captioned-circle',
  label: 'Captioned circle',
  note: 'the picture made round',
  synonyms: ['round portrait', 'avatar', 'team', 'circle with caption', 'profile'],
  shape: 'circle',
  items: (context) => nameBelow.items(context),
};
