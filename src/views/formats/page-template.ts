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
<header>
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
<% if (it.trees.length > 0) { %><section class="needs-script" aria-labelledby="ask-head">
<h2 id="ask-head">Follow a request</h2>
<form id="asking">
<label>Method<br><input type="text" id="method" value="GET" autocomplete="off"></label>
<label>Target<br><input type="text" id="target" placeholder="/path?query" autocomplete="off"></label>
<label>Headers, one a line<br><textarea id="headers"></textarea></label>
<button type="submit">Follow</button>
</form>
<dl id="answer" aria-live="polite"></dl>
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
<% } %><% if (item.witness !== '') { %><p>Witness: <code class="witness"><%= item.witness %></code></p>
<% } %><% for (const r of item.related) { %><p><%= r.role %>: <%= r.what %> <span class="path"><%= r.file %><%= r.line === undefined ? '' : ':' + r.line %></span></p>
<% } %><% if (item.advice !== '') { %><p><%= item.advice %></p>
<% } %></article>
<% } %></details>
<% } %><% if (it.causes.length === 0) { %><p>Nothing was found.</p>
<% } %></section>
<% const nodes = (list) => { %><ul>
<% for (const node of list) { %><li><details><summary><code>/<%= node.text %></code> <span class="methods"><%= it.methodsOf(node) %></span></summary>
<% if (node.routes.length > 0) { %><ol>
<% for (const route of node.routes) { const level = it.levelOf(route); %><li><code><%= route.methods.join('|') %> <%= route.path %></code> is handled by <code><%= route.handler %></code> <span class="path"><%= route.place.file %></span><% if (level !== undefined) { %> <strong class="<%= level %>"><%= level %></strong><% } %></li>
<% } %></ol>
<% } %><% if (node.children.length > 0) nodes(node.children); %></details></li>
<% } %></ul>
<% }; %><% for (const tree of it.trees) { %><section class="tree" aria-label="<%= tree.name %>">
<h2>Resources of <%= tree.name %></h2>
<% nodes(tree.nodes); %></section>
<% } %></main>
<footer>elm-gate <%= it.version %>. This page holds all that it shows, and asks nobody for anything.</footer>
<script type="application/json" id="data"><%~ it.data %></script>
<script><%~ it.script %></script>
</body>
</html>
`;
