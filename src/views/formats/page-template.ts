/** The page as a template. `<%= %>` escapes; `<%~ %>` stands only for what is ours: the style, the script and the packed data. */
export const PAGE = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="<%= it.policy %>">
<title><%= it.title %>: elm-gate <%= it.command %></title>
<style><%~ it.style %></style>
</head>
<body>
<% const pieces = (list) => { %><div class="quote" tabindex="0" role="group" aria-label="JSON"><% for (const { text, isMarked } of list) { if (isMarked) { %><mark><%= text %></mark><% } else { %><%= text %><% } } %></div><% };
const drawing = (d) => { %><div class="scroll" tabindex="0" role="group" aria-label="<%= d.words %>"><svg class="sets" role="img" aria-label="<%= d.words %>" viewBox="0 0 800 120" width="800" height="120"><% if (d.shape === 'within') { %>
<ellipse class="other" cx="200" cy="60" rx="190" ry="55"/><ellipse class="own lost" cx="240" cy="60" rx="90" ry="30"/><% } else if (d.shape === 'overlap') { %>
<ellipse class="other" cx="130" cy="60" rx="120" ry="55"/><ellipse class="own" cx="270" cy="60" rx="120" ry="55"/><% } else { %>
<ellipse class="other" cx="200" cy="60" rx="150" ry="55"/><ellipse class="own lost" cx="200" cy="60" rx="144" ry="50"/><% } %>
<circle class="shared" cx="<%= d.shape === 'within' ? 240 : 200 %>" cy="60" r="4"/>
<g class="labels"><line x1="<%= d.shape === 'within' ? 40 : d.shape === 'overlap' ? 60 : 80 %>" y1="30" x2="410" y2="20"/><text x="415" y="24"><%= it.cut(d.other) %></text>
<line x1="<%= d.shape === 'within' ? 328 : d.shape === 'overlap' ? 380 : 344 %>" y1="60" x2="410" y2="60"/><text x="415" y="64"><%= it.cut(d.own) %></text>
<% if (d.shared !== '') { %><line x1="<%= d.shape === 'within' ? 244 : 204 %>" y1="62" x2="410" y2="100"/><text x="415" y="104" class="request"><%= d.shared %></text><% } %></g></svg></div><% };
const grid = (g, isOpen) => { %><details class="grid"<% if (isOpen) { %> open<% } %>><summary><h2><%= g.title %></h2> <span class="what"><%= g.count %></span></summary>
<div class="scroll" tabindex="0" role="group" aria-label="<%= g.title %>"><table><thead><tr><th scope="col"><%= g.of %></th><% for (const c of g.columns) { %><th scope="col"><%= c %></th><% } %></tr></thead><tbody>
<% for (const row of g.rows) { %><tr><th scope="row"><%= row.head %><% for (const { text, look } of row.cells) { %><td<% if (look !== '') { %> class=<%= look %><% } %>><%= text %><% } %>
<% } %></tbody></table></div></details>
<% }; %><header>
<h1><%= it.title %></h1>
<% for (const sentence of it.summary) { %><p class="verdict"><%= sentence %></p>
<% } %><ul class="counts" aria-label="Findings by level">
<% for (const { level, text } of it.counts) { %><li class="<%= level %>"><%= text %></li>
<% } %></ul>
<% if (it.worst.length > 0) { %><h2>Most serious</h2>
<ol>
<% for (const item of it.worst) { %><li><strong class="<%= item.level %>"><%= item.level %></strong> <%= item.message %> <span class="path"><%= it.placeOf(item) %></span></li>
<% } %></ol>
<% } %></header>
<main>
<% for (const g of it.firstGrids) grid(g, true); %><% if (it.trees.length > 0) { %><section class="needs-script" aria-labelledby="ask-head">
<h2 id="ask-head">Follow a request</h2>
<form id="asking">
<label>Method <input type="text" id="method" value="GET" autocomplete="off"></label>
<label>Target <input type="text" id="target" placeholder="/path?query" autocomplete="off"></label>
<label>Headers, one a line <textarea id="headers"></textarea></label>
<label>Body <textarea id="body"></textarea></label>
<button type="submit">Follow</button>
</form>
<% if (it.unread.length > 0) { %><p class="what">Not held against the document of <%= it.unread.join(', ') %>, which is too large for this page; elm-gate follow does it.</p>
<% } %><dl id="answer" aria-live="polite"></dl>
</section>
<% } %><section aria-labelledby="findings-head">
<h2 id="findings-head">Findings by cause</h2>
<form id="filters" class="needs-script">
<label>Only those with<br><input type="text" id="filter" autocomplete="off"></label>
<fieldset><legend>Levels</legend>
<% for (const { level } of it.counts) { %><label><input type="checkbox" name="level" value="<%= level %>" checked> <%= level %></label>
<% } %></fieldset>
<output id="shown" for="filter"></output>
</form>
<% for (const cause of it.causes) { %><details class="cause" data-rule="<%= cause.rule %>" data-level="<%= cause.level %>"<% if (cause.level === 'error') { %> open<% } %>>
<summary><strong class="<%= cause.level %>"><%= cause.level %></strong> <%= cause.rule %> (<%= cause.items.length %>) <span class="what"><%= cause.what %></span></summary>
<% if (cause.why !== '') { %><p><%= cause.why %></p>
<% } %><% for (const item of cause.items) { %><article class="finding">
<p><strong><%= item.message %></strong></p>
<p class="path"><%= it.placeOf(item) %></p>
<% if (item.quote.length > 0) { %><div class="quote" tabindex="0" role="group" aria-label="lines of <%= it.placeOf(item) %>"><% for (const line of item.quote) { %><span class="number"><%= String(line.number).padStart(5) %>  </span><%= line.parts[0] %><% if (line.isHere) { %><mark><%= line.parts[1] %></mark><% } %><%= line.parts[2] %>
<% } %></div>
<% } %><% if (item.drawing !== undefined) drawing(item.drawing); %><% if (item.sides !== undefined) { %><div class="sides">
<% for (const [name, side] of [['before', item.sides.old], ['now', item.sides.now]]) { if (side === undefined) continue; %><figure><figcaption><%= name %></figcaption><% pieces(side); %></figure>
<% } %></div>
<% } %><% if (item.body.length > 0) { %><figure><figcaption>A <%= item.change.change.witness.side %> that fits the <%= item.change.change.witness.validUnder %> side<%= item.change.change.witness.lost === undefined ? ', not the ' + item.change.change.witness.invalidUnder : '; what is marked can not come any more' %></figcaption><% pieces(item.body); %></figure>
<% } else if (item.witness !== '') { %><p>Witness: <code class="witness"><%= item.witness %></code></p>
<% } %><% if (item.traffic !== undefined) { %><p>Traffic: <%= item.traffic %></p>
<% } %><% for (const r of item.related) { %><p><%= r.role %>: <%= r.what %> <span class="path"><%= r.file %><%= r.line === undefined ? '' : ':' + r.line %></span></p>
<% } %><% if (item.advice !== '') { %><p><%= item.advice %></p>
<% } %></article>
<% } %></details>
<% } %><% if (it.causes.length === 0) { %><p>Nothing was found.</p>
<% } %></section>
<% const routes = (node, tree) => { %><ol>
<% for (const route of node.routes) { const level = it.levelOf(route); %><li><code><%= route.methods.join('|') %></code> is handled by <code><%= route.handler %></code> <span class="path"><%= it.lineOf(route, tree.file) %></span><% if (level !== undefined) { %> <strong class="<%= level %>"><%= level %></strong><% } %></li>
<% } %></ol>
<% };
const nodes = (list, tree) => { %><ul>
<% for (const node of list) { if (node.children.length === 0) { %><li><code>/<%= node.text %></code><% routes(node, tree); %></li>
<% continue; } %><li><details><summary><code>/<%= node.text %></code> <span class="methods"><%= it.methodsOf(node) %></span></summary>
<% if (node.routes.length > 0) routes(node, tree); nodes(node.children, tree); %></details></li>
<% } %></ul>
<% }; %><% for (const tree of it.trees) { %><section class="tree" aria-label="<%= tree.name %>">
<h2>Resources of <%= tree.name %></h2>
<% if (tree.file !== undefined) { %><p class="what">Lines are those of <%= tree.file %>.</p>
<% } nodes(tree.nodes, tree); %></section>
<% } %><% for (const g of it.grids) grid(g, false); %></main>
<footer>elm-gate <%= it.version %>. This page holds all that it shows, and asks nobody for anything.</footer>
<script type="application/json" id="data"><%~ it.data %></script>
<script><%~ it.script %></script>
</body>
</html>
`;
