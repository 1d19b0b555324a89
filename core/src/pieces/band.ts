import { accentOn, filled, tieTo, tiedItem, type Piece } from './piece';

export const band: Piece = {
  name: 'band',
  label: 'Band',
  note: 'to the edge of the page',
  synonyms: ['stripe', 'banner', 'bar', 'letterhead', 'side panel'],
  items(context) {
    const { drawn, page, flows, ground, colours } = context;
    const gap = Math.round(Math.min(drawn.width, drawn.height) * 0.12);
    // From the edge of the page that is nearest.
    const edges = [
      ['top', drawn.y],
      ['left', drawn.x],
      ['right', page.size.width - drawn.x - drawn.width],
      ['bottom', page.size.height - drawn.y - drawn.height],
    ] as const;
    // Beside a text a band goes across the paper.
    const [side] = edges
      .filter(([edge]) => !flows || edge === 'top' || edge === 'bottom')
      .reduce((least, edge) => (edge[1] < least[1] ? edge : least));
    const tie = tieTo(context, { as: 'behind', side, gap });
    return [{ item: tiedItem(context, { fill: filled(accentOn(ground, colours)), tie }), layer: 'behind' }];
  },
};
