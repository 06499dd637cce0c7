# Style of the report: one column, readable on a phone, plain when printed.

report_style <- "
:root { color-scheme: light; }
body { margin: 0; background: #fff; color: #1F2328; font: 16px/1.5 system-ui, -apple-system, 'Segoe UI', 'DejaVu Sans', sans-serif; }
main { max-width: 70rem; margin: 0 auto; padding: 1.2rem; }
h1 { font-size: 1.7rem; line-height: 1.25; margin: .3rem 0 1rem; }
h2 { font-size: 1.25rem; margin: 2.2rem 0 .6rem; padding-top: .6rem; border-top: 2px solid #1F2328; }
h3 { font-size: 1.05rem; margin: 1.4rem 0 .4rem; }
.answer { max-width: 60rem; border-left: 5px solid #1F2328; padding: .1rem 0 .1rem .9rem; margin: 0 0 1.1rem; }
.answer p { font-size: 1.12rem; margin: .25rem 0; }
.word { display: inline-block; font-weight: 650; font-size: .85rem; padding: .05rem .55rem; margin-right: .4rem; border: 1.5px solid currentColor; border-radius: 3px; }
.word.gain { color: #0072B2; } .word.loss { color: #C2410C; } .word.negligible { color: #3F7D5C; } .word.unclear, .word.none { color: #5B5B5B; }
.small, footer { font-size: .85rem; color: #4A4F55; }
figure { margin: 0 0 1rem; max-width: 60rem; } svg { width: 100%; height: auto; min-width: 34rem; }
.scroll { overflow-x: auto; }
table { border-collapse: collapse; font-size: .82rem; } th, td { padding: .28rem .5rem; border-bottom: 1px solid #DDD; vertical-align: top; }
th { text-align: left; border-bottom: 2px solid #888; white-space: nowrap; } .right { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap; }
summary { cursor: pointer; padding: .3rem 0; } li { margin: .3rem 0; } em { color: #4A4F55; }
footer { margin-top: 2.5rem; }
@media print { body { font-size: 11pt; } main { max-width: none; padding: 0; } figure, .answer, tr { break-inside: avoid; } svg { min-width: 0; } details > *:not(summary) { display: block; } }
"
