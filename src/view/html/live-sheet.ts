/** The style of live pages; its variables are those of the page. */
export const LIVE_STYLE = `
.tools{position:relative;margin:0 0 20px;padding:6px 0 4px;border-bottom:1px solid var(--hair);background:var(--paper);font-size:13.5px}
@media (min-height:480px){.tools{position:sticky;top:0;z-index:7}}
.tools .line{display:flex;gap:8px;align-items:center}
.chips{display:flex;flex:1 1 auto;min-width:0;gap:7px;overflow-x:auto;scrollbar-width:thin;padding:3px}
.chip{display:flex;flex:none;align-items:center;border:1px solid var(--quiet);border-radius:16px;white-space:nowrap}
.chip.on{border-color:var(--soot);background:var(--hair);box-shadow:inset 0 0 0 1px var(--soot)}
.tools summary{cursor:pointer;list-style:none;padding:3px 12px;border-radius:16px}
.tools summary::-webkit-details-marker{display:none}
.chip.on summary{padding-right:4px}
.chip .now{font-weight:700;display:inline-block;max-width:22ch;overflow:hidden;text-overflow:ellipsis;vertical-align:bottom}
.tools .undo{border:0;padding:2px 10px 3px 4px;background:none}
.menu{flex:none}
.menu summary{border:1px solid var(--quiet);font-weight:700;padding:3px 14px}
.tools input{accent-color:var(--soot)}
.tools input[type=range]{width:190px;margin:0}
.tools input[type=number]{width:112px}
.tools input:not([type=range],[type=checkbox]),.tools select{font:inherit;color:inherit;background:transparent;border:1px solid var(--quiet);border-radius:6px;padding:3px 9px;min-width:0}
.tools select option{color:var(--soot);background:var(--paper)}
.tools button,.sortable button,.cells button{font:inherit;color:inherit;background:none;border:1px solid var(--quiet);border-radius:14px;padding:2px 11px;cursor:pointer}
.tools button:hover,.tools summary:hover,.cells button:hover{background:var(--hair)}
.tools .row{display:flex;flex-wrap:wrap;gap:6px 10px;align-items:center;padding-top:4px}
.tools .row[hidden]{display:none}
.tools fieldset{border:0;margin:0 0 10px;padding:0;min-width:0}
.tools legend{padding:0;color:var(--quiet);font-weight:600}
.acts{float:right;font-size:13px;margin:-1px 0 -5px 12px}
.acts{display:flex;gap:10px;align-items:center}
.acts input{font:inherit;color:inherit;background:transparent;border:1px solid var(--quiet);border-radius:5px;padding:2px 7px;width:150px}
.acts [role=status]{color:var(--quiet);min-width:6ch}
.found th,.found td{background:var(--hair)}
.acts button{font:inherit;color:var(--quiet);background:none;border:0;padding:0 2px;cursor:pointer;text-decoration:underline;text-underline-offset:2px}
.acts button:focus-visible{outline:2px solid var(--soot);outline-offset:2px}
.drop{position:absolute;z-index:8;left:0;top:calc(100% + 4px);background:var(--paper);border:1px solid var(--hair);border-radius:8px;box-shadow:0 6px 24px rgb(0 0 0/.18);padding:12px 14px;width:max-content;max-width:min(360px,86vw);max-height:60vh;overflow:auto}
.menu .drop{max-width:min(560px,92vw)}
.cells{font-size:13.5px;margin-top:10px;padding:10px 14px;border:1px solid var(--hair);border-radius:8px;max-height:40vh;overflow:auto}
.cells p{margin:0}
.cells .cap{font-weight:600}
.cells ul{list-style:none;margin:4px 0 0;padding:0;display:grid;grid-template-columns:repeat(auto-fill,minmax(min(240px,100%),1fr))}
.cells button{border:0;border-radius:5px;padding:3px 6px;text-align:left;width:100%}
.drop label{display:flex;gap:8px;align-items:baseline;padding:3px 0}
.drop .said{margin:6px 0 0}
.drop ol{margin:0;padding:0;list-style:none}
.drop li{padding:5px 0;border-top:1px solid var(--hair)}
.drop li:first-child{border-top:0}
.drop p{margin:1px 0 0 25px;color:var(--quiet)}
.counts{margin:2px 3px 0;color:var(--quiet);min-height:1.9em;font-variant-numeric:tabular-nums}
.counts b{color:var(--soot);font-weight:600}
.grid td.moved>span,.heat td.moved,.block.moved,article.moved{outline:2px solid var(--soot);outline-offset:-2px}
.grid td.here>span,.heat td.here,article.here{outline:3px solid var(--soot);outline-offset:2px}
.grid td.covered>span,.heat td.covered,article.covered{outline:1px dashed var(--quiet);outline-offset:-1px}
.grid td.reached>span,.heat td.reached,article.reached{outline:2px solid var(--soot);outline-offset:-2px}
td:focus-visible,article:focus-visible,.tools :focus-visible,.sortable button:focus-visible{outline:2px solid var(--soot);outline-offset:2px}
.sortable button{border:0;padding:0;font-weight:600;text-align:inherit}
.sortable button:hover{text-decoration:underline}
.whybox{position:absolute;z-index:9;background:var(--paper);border:1px solid var(--hair);border-radius:8px;box-shadow:0 6px 24px rgb(0 0 0/.18);padding:12px 16px;width:max-content;max-width:min(430px,90vw);font-size:13.5px}
.whybox p{margin:0}
.whybox ul{margin:6px 0 0;padding:0;list-style:none;color:var(--quiet)}
.whybox .cap{font-weight:600}
.whybox .trend{max-width:100%;height:auto}
.behind{margin:8px 0 0;border-top:1px solid var(--hair);padding-top:4px}
.chart .moved{stroke:var(--soot);stroke-width:2.4px}
.chart .covered{stroke:var(--quiet);stroke-width:2px;stroke-dasharray:3 2}
.chart .reached,.chart .here{stroke:var(--soot);stroke-width:3px;stroke-dasharray:none}
.one[hidden]{display:none}
.empty{font-size:17px;margin:30px 0}
.size td,.size th{height:0;padding-top:0;padding-bottom:0;border:0;line-height:0;visibility:hidden}
.size td>span,.size th>span{height:0;min-height:0;padding-top:0;padding-bottom:0;overflow:hidden}
.rows th>span,.size th>span{white-space:nowrap;overflow:hidden;text-overflow:ellipsis}
.top,.end{position:sticky;z-index:1;background:var(--paper)}
.top{top:var(--head,0)}
.end{bottom:0}
.top .t th,.top .t td{border-top:0}
.end .t th,.end .t td{border-bottom:0}
@media print{.one[hidden]{display:block}.top,.end{position:static}.tools,.whybox,.acts{display:none}}
`
