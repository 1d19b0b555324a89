/** What all texts on pages look like where their files say nothing; what is laid out is black on white. */
export const FLOW_STYLES = `
body{margin:24px;background:transparent;color:#000}
.page{position:relative;isolation:isolate;box-sizing:border-box;margin:0 auto 24px;background:var(--paper,#fff);box-shadow:0 1px 8px rgb(34 48 47/22%);overflow:hidden}
.page>*,.area{position:absolute}
.area{display:flow-root}
[data-paragraph]{position:relative;white-space:pre-wrap;overflow-wrap:break-word;word-break:normal;tab-size:36pt;font-kerning:normal}
[data-paragraph]:has(>[data-break="page"]:only-child){min-height:0}
table{border-collapse:collapse;border-spacing:0}
td{vertical-align:top}
.inline{display:inline-block;position:relative;vertical-align:baseline;text-indent:0}
[data-unseen]{visibility:hidden}
.float{position:absolute;left:0;top:0;text-indent:0;text-align:left}
.drawn{position:absolute;display:block;box-sizing:border-box}
.shape{position:absolute;inset:0;width:100%;height:100%;overflow:visible}
.words{position:absolute;inset:0;display:flex;flex-direction:column;box-sizing:border-box;text-indent:0}
.words>span{display:block}
.plate{display:inline-flex;align-items:center;justify-content:center;box-sizing:border-box;background:#e9e4d8;color:#5a6560;font:9pt/1.2 sans-serif;overflow:hidden;text-indent:0}
.marker{display:inline-block;text-indent:0;white-space:pre}
[data-tab]{display:inline-block;width:36pt;text-indent:0;font-style:normal}
.notes{width:120pt;margin:6pt 0 4pt;border:0;border-top:.5pt solid #000}
b[data-break]{display:none}
.sign{font-size:65%;line-height:0}
.tied{height:0;line-height:0;font-size:0}
[data-picture]{visibility:hidden!important}
`.replace(/\n/g, '');
