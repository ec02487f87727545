/** The style of the report: a system font, light and dark, narrow and printed. */
export const STYLE = `
:root { color-scheme: light dark; --ink: #1b1f24; --soft: #57606a; --page: #fff; --panel: #f6f8fa; --line: #d0d7de; --red: #b3261e; --amber: #7a4d00; --blue: #0a5bb5; --green: #146c2e; --mark: #fff3b8; }
@media (prefers-color-scheme: dark) { :root { --ink: #e6edf3; --soft: #9aa6b2; --page: #0f1318; --panel: #181e25; --line: #30383f; --red: #ff8f87; --amber: #f2c063; --blue: #7ab8ff; --green: #7fd99a; --mark: #4d4210; } }
* { box-sizing: border-box; }
body { margin: 0 auto; padding: 1.5rem; max-width: 72rem; font: 1rem/1.5 system-ui, sans-serif; color: var(--ink); background: var(--page); overflow-wrap: anywhere; }
h1 { font-size: 1.5rem; margin: 0; } h2 { font-size: 1.15rem; margin: 2rem 0 .5rem; }
code, pre, .quote, .path { font-family: ui-monospace, monospace; font-size: .875rem; }
.verdict { font-size: 1.1rem; margin: .25rem 0 1rem; }
.counts { display: flex; flex-wrap: wrap; gap: .5rem; padding: 0; margin: 0 0 1rem; list-style: none; }
.counts li { padding: .25rem .75rem; border: 1px solid var(--line); border-radius: 1rem; background: var(--panel); }
.error { color: var(--red); } .warning { color: var(--amber); } .note { color: var(--blue); }
form { display: flex; flex-wrap: wrap; gap: .75rem; align-items: end; padding: .75rem; border: 1px solid var(--line); border-radius: .5rem; background: var(--panel); }
fieldset { display: flex; flex-wrap: wrap; gap: .25rem .75rem; } label { display: block; } label, fieldset { border: 0; padding: 0; margin: 0; min-width: 0; }
input[type=text], textarea, button { font: inherit; color: inherit; background: var(--page); border: 1px solid var(--soft); border-radius: .25rem; padding: .35rem .5rem; max-width: 100%; }
#method { width: 6rem; } #target { width: min(26rem, 75vw); } textarea, #method, #target { display: block; } textarea { width: min(22rem, 75vw); height: 2.4rem; }
button { cursor: pointer; background: var(--ink); color: var(--page); }
:focus-visible { outline: 3px solid var(--blue); outline-offset: 2px; }
dl { margin: .5rem 0 0; } dl div { display: flex; gap: .75rem; flex-wrap: wrap; } dt { width: 7rem; color: var(--soft); } dd { margin: 0; flex: 1; min-width: 14rem; overflow-wrap: anywhere; }
details { border-bottom: 1px solid var(--line); padding: .4rem 0; }
summary { cursor: pointer; } summary .what { color: var(--soft); }
.finding { content-visibility: auto; contain-intrinsic-size: auto 14rem; margin: .75rem 0 .75rem 1rem; padding-left: .75rem; border-left: 3px solid var(--line); overflow-wrap: anywhere; }
.finding p { margin: .15rem 0; }
.witness { color: var(--green); }
.quote { margin: .35rem 0; padding: .4rem .5rem; background: var(--panel); border-radius: .25rem; overflow-x: auto; white-space: pre; }
.quote .number { color: var(--soft); } mark { background: var(--mark); color: inherit; }
.tree ul { list-style: none; margin: 0; padding-left: 1.25rem; } .tree > ul { padding-left: 0; }
.tree ol { list-style: none; margin: 0; padding-left: 1.25rem; } .tree details { border: 0; padding: .1rem 0; } .methods { color: var(--soft); }
.scroll { overflow: auto; max-height: 32rem; border: 1px solid var(--line); border-radius: .25rem; }
.grid h2 { display: inline; } .grid { margin-top: 1.5rem; }
table { border-collapse: separate; border-spacing: 0; font-size: .875rem; } th, td { padding: .2rem .6rem; text-align: left; border-bottom: 1px solid var(--line); white-space: nowrap; font-weight: normal; vertical-align: top; }
thead th { position: sticky; top: 0; background: var(--panel); z-index: 1; } tbody th { white-space: pre; vertical-align: top; position: sticky; left: 0; background: var(--page); font-family: ui-monospace, monospace; max-width: 45vw; overflow-x: auto; } thead th:first-child { left: 0; z-index: 2; }
.good { color: var(--green); } .odd { color: var(--amber); } .bad { color: var(--red); }
.sides { display: grid; grid-template-columns: repeat(auto-fit, minmax(min(18rem, 100%), 1fr)); gap: .75rem; } figure { margin: .35rem 0; min-width: 0; } figcaption { color: var(--soft); font-size: .875rem; }
.sets { display: block; margin: .35rem 0; } .finding .scroll { border: 0; } .sets .other { fill: var(--blue); fill-opacity: .18; stroke: var(--blue); } .sets .own { fill: var(--amber); fill-opacity: .22; stroke: var(--amber); } .sets .lost { stroke-dasharray: 5 4; } .sets .shared { fill: var(--red); } .sets line { stroke: var(--soft); } .sets text { fill: var(--ink); font: 13px ui-monospace, monospace; } .sets .request { fill: var(--green); }
html:not(.scripted) .needs-script { display: none; }
footer { margin-top: 2rem; color: var(--soft); font-size: .875rem; }
@media print { .quote { white-space: pre-wrap; } .finding { content-visibility: visible; } form, details:not([open]).grid { display: none; } .scroll { max-height: none; overflow: visible; } body { max-width: none; padding: 0; } .finding { break-inside: avoid; } }
@media (max-width: 30rem) { tbody th { white-space: pre-wrap; overflow-wrap: anywhere; } body { padding: .75rem; } .finding { content-visibility: auto; contain-intrinsic-size: auto 14rem; margin-left: 0; } dt { width: 100%; } }
`;
