/**
 * Pages that size an image in the ways that web pages do, each with the rules for it and its place: written by hand, by the clauses of
 * CSS Sizing, Flexbox, Grid, Values and Conditional Rules, and by what is common practice on pages.
 */
export interface FluidLayout {
  name: string;
  css: string;
  /** `{img}` is the image. */
  body: string;
}

export const FLUID_LAYOUTS: readonly FluidLayout[] = [
  { name: 'plain max', css: 'img{max-width:100%}', body: '<p>a {img} b</p>' },
  { name: 'width 100%', css: '.i{width:100%}', body: '<div>{img}</div>' },
  { name: 'max-width 100%', css: '.i{max-width:100%;height:auto}', body: '<div>{img}</div>' },
  { name: 'width100 height480', css: '.i{width:100%;height:480px}', body: '<div>{img}</div>' },
  { name: 'width100 height480 cover', css: '.i{width:100%;height:480px;object-fit:cover}', body: '<div>{img}</div>' },
  {
    name: 'width100 height480 cover top',
    css: '.i{width:100%;height:480px;object-fit:cover;object-position:50% 0}',
    body: '<div>{img}</div>',
  },
  {
    name: 'block width100 h480',
    css: '.i{display:block;width:100%;height:480px;object-fit:cover}',
    body: '<div>{img}</div>',
  },
  { name: '50vh', css: '.i{width:100%;height:50vh;object-fit:cover}', body: '<div>{img}</div>' },
  { name: '50svh', css: '.i{width:100%;height:50svh;object-fit:cover}', body: '<div>{img}</div>' },
  { name: 'min(480px,50vh)', css: '.i{width:100%;height:min(480px,50vh);object-fit:cover}', body: '<div>{img}</div>' },
  {
    name: 'clamp height',
    css: '.i{width:100%;height:clamp(200px,40vw,480px);object-fit:cover}',
    body: '<div>{img}</div>',
  },
  { name: 'clamp width', css: '.i{width:clamp(200px,50%,600px);height:auto}', body: '<div>{img}</div>' },
  { name: 'vw width', css: '.i{width:60vw}', body: '<div>{img}</div>' },
  { name: 'aspect-ratio', css: '.i{width:100%;aspect-ratio:16/9;object-fit:cover}', body: '<div>{img}</div>' },
  { name: 'aspect-ratio 1', css: '.i{width:50%;aspect-ratio:1;object-fit:cover}', body: '<div>{img}</div>' },
  {
    name: 'aspect parent',
    css: '.b{aspect-ratio:3/2}.i{width:100%;height:100%;object-fit:cover}',
    body: '<div class="b">{img}</div>',
  },
  {
    name: 'fixed parent',
    css: '.b{height:300px}.i{width:100%;height:100%;object-fit:cover}',
    body: '<div class="b">{img}</div>',
  },
  {
    name: 'vh parent',
    css: '.b{height:60vh}.i{width:100%;height:100%;object-fit:cover}',
    body: '<div class="b">{img}</div>',
  },
  {
    name: 'vh parent min',
    css: '.b{min-height:300px;height:60vh}.i{width:100%;height:100%;object-fit:cover}',
    body: '<div class="b">{img}</div>',
  },
  {
    name: 'abs inset',
    css: '.b{position:relative;height:400px}.i{position:absolute;inset:0;width:100%;height:100%;object-fit:cover}',
    body: '<div class="b">{img}</div>',
  },
  {
    name: 'abs inset vh',
    css: '.b{position:relative;min-height:70vh}.i{position:absolute;inset:0;width:100%;height:100%;object-fit:cover}',
    body: '<div class="b">{img}<p>x</p></div>',
  },
  {
    name: 'grid 2',
    css: '.g{display:grid;grid-template-columns:1fr 1fr;gap:20px}.i{width:100%}',
    body: '<div class="g">{img}<p>x</p></div>',
  },
  {
    name: 'grid 3 auto-fit',
    css: '.g{display:grid;grid-template-columns:repeat(auto-fit,minmax(200px,1fr));gap:20px}.i{width:100%;height:200px;object-fit:cover}',
    body: '<div class="g">{img}<p>x</p><p>y</p></div>',
  },
  {
    name: 'grid stretch',
    css: '.g{display:grid;grid-template-columns:2fr 1fr;grid-auto-rows:250px;gap:10px}.i{width:100%;height:100%;object-fit:cover}',
    body: '<div class="g">{img}<p>x</p></div>',
  },
  {
    name: 'grid span',
    css: '.g{display:grid;grid-template-columns:repeat(4,1fr);gap:10px}.i{grid-column:span 2;width:100%;aspect-ratio:2/1;object-fit:cover}',
    body: '<div class="g"><p>x</p>{img}<p>x</p></div>',
  },
  {
    name: 'flex 1',
    css: '.f{display:flex;gap:20px}.f>*{flex:1}.i{min-width:0;height:240px;object-fit:cover}',
    body: '<div class="f">{img}<p>x</p></div>',
  },
  {
    name: 'flex basis',
    css: '.f{display:flex;gap:20px}.i{flex:0 0 40%;width:40%;height:240px;object-fit:cover}',
    body: '<div class="f">{img}<p>text text text</p></div>',
  },
  {
    name: 'flex none w',
    css: '.f{display:flex;gap:20px;align-items:flex-start}.i{width:200px;height:200px;object-fit:cover}',
    body: '<div class="f">{img}<p>text text text</p></div>',
  },
  {
    name: 'flex wrap',
    css: '.f{display:flex;flex-wrap:wrap;gap:10px}.i{flex:1 1 300px;height:220px;object-fit:cover;min-width:0}',
    body: '<div class="f">{img}<div style="flex:1 1 300px">text</div></div>',
  },
  {
    name: 'flex column',
    css: '.f{display:flex;flex-direction:column;height:500px}.i{flex:1;min-height:0;object-fit:cover;width:100%}',
    body: '<div class="f">{img}<p>text text</p></div>',
  },
  {
    name: 'float',
    css: '.i{float:left;width:40%;margin:0 20px 10px 0}',
    body: '<div>{img}<p>text text text</p></div>',
  },
  {
    name: 'float px',
    css: '.i{float:right;width:200px;height:150px;object-fit:cover;margin-left:20px}',
    body: '<div>{img}<p>text text text</p></div>',
  },
  {
    name: 'figure',
    css: 'figure{margin:0 auto;max-width:700px}.i{width:100%;height:auto;display:block}',
    body: '<figure>{img}<figcaption>x</figcaption></figure>',
  },
  {
    name: 'container',
    css: '.c{max-width:960px;margin:0 auto;padding:0 24px}.i{width:100%;height:360px;object-fit:cover;border-radius:8px}',
    body: '<div class="c">{img}</div>',
  },
  {
    name: 'full bleed',
    css: '.c{max-width:720px;margin:0 auto;padding:0 16px}.i{width:100vw;margin-left:calc(50% - 50vw);height:400px;object-fit:cover;max-width:none}',
    body: '<div class="c">{img}</div>',
  },
  {
    name: 'picture el',
    css: '.i{width:100%;height:300px;object-fit:cover}',
    body: '<picture><source media="(min-width:9999px)" srcset="x.png">{img}</picture>',
  },
  { name: 'link', css: '.i{width:100%;height:300px;object-fit:cover}', body: '<a href="#">{img}</a>' },
  {
    name: 'link block',
    css: 'a{display:block}.i{display:block;width:100%;height:300px;object-fit:cover}',
    body: '<a href="#">{img}</a>',
  },
  {
    name: 'inline-block w%',
    css: '.w{display:inline-block;width:45%}.i{width:100%}',
    body: '<div><span class="w">{img}</span></div>',
  },
  {
    name: 'table cell',
    css: 'table{width:100%;table-layout:fixed}.i{width:100%;height:auto}',
    body: '<table><tr><td>{img}</td><td>x</td></tr></table>',
  },
  { name: 'max-height', css: '.i{max-width:100%;max-height:300px}', body: '<div>{img}</div>' },
  { name: 'max-height cover', css: '.i{width:100%;max-height:300px;object-fit:cover}', body: '<div>{img}</div>' },
  { name: 'min-height', css: '.i{width:100%;min-height:400px;object-fit:cover}', body: '<div>{img}</div>' },
  {
    name: 'padding border',
    css: '.i{width:100%;height:300px;padding:8px;border:2px solid #444;object-fit:cover}',
    body: '<div>{img}</div>',
  },
  {
    name: 'border-box',
    css: '.i{box-sizing:border-box;width:100%;height:300px;padding:8px;border:2px solid #444;object-fit:cover}',
    body: '<div>{img}</div>',
  },
  {
    name: '* border-box',
    css: '*{box-sizing:border-box}.i{width:100%;height:300px;object-fit:cover}',
    body: '<div style="padding:20px">{img}</div>',
  },
  { name: 'rem', css: '.i{width:20rem;max-width:100%;height:12rem;object-fit:cover}', body: '<div>{img}</div>' },
  {
    name: 'em',
    css: '.b{font-size:20px}.i{width:10em;max-width:100%;height:8em;object-fit:cover}',
    body: '<div class="b">{img}</div>',
  },
  { name: 'calc', css: '.i{width:calc(100% - 60px);height:280px;object-fit:cover}', body: '<div>{img}</div>' },
  {
    name: 'media query',
    css: '.i{width:100%;height:240px;object-fit:cover}@media(min-width:800px){.i{height:480px}}',
    body: '<div>{img}</div>',
  },
  {
    name: 'media query width',
    css: '.i{width:100%;height:auto}@media(min-width:800px){.i{width:50%}}',
    body: '<div>{img}</div>',
  },
  {
    name: 'container query',
    css: '.q{container-type:inline-size}.i{width:100%;height:200px;object-fit:cover}@container (min-width:700px){.i{height:400px}}',
    body: '<div class="q">{img}</div>',
  },
  {
    name: 'cqw',
    css: '.q{container-type:inline-size}.i{width:100%;height:40cqw;object-fit:cover}',
    body: '<div class="q">{img}</div>',
  },
  {
    name: 'columns',
    css: '.k{columns:2;column-gap:20px}.i{width:100%}',
    body: '<div class="k">{img}<p>text</p><p>text</p></div>',
  },
  {
    name: 'sticky',
    css: '.i{position:sticky;top:0;width:100%;height:200px;object-fit:cover}',
    body: '<div>{img}</div>',
  },
  { name: 'contain fit', css: '.i{width:100%;height:300px;object-fit:contain}', body: '<div>{img}</div>' },
  {
    name: 'flex center',
    css: '.f{display:flex;justify-content:center}.i{width:min(600px,90%);height:auto}',
    body: '<div class="f">{img}</div>',
  },
  {
    name: 'grid place-items',
    css: '.g{display:grid;place-items:center}.i{max-width:500px;width:100%;height:auto}',
    body: '<div class="g">{img}</div>',
  },
  {
    name: 'masonry',
    css: '.g{display:grid;grid-template-columns:repeat(2,1fr);grid-auto-rows:120px;gap:8px}.i{grid-row:span 2;width:100%;height:100%;object-fit:cover}',
    body: '<div class="g">{img}<p>x</p><p>y</p></div>',
  },
  {
    name: 'hero section',
    css: 'section{position:relative;min-height:80vh;display:grid;place-items:center}.i{position:absolute;inset:0;width:100%;height:100%;object-fit:cover;z-index:-1}',
    body: '<section>{img}<h1>Head</h1></section>',
  },
];
