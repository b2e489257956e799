/** The style of live pages; its variables are those of the page. */
export const LIVE_STYLE = `
.tools{display:flex;flex-wrap:wrap;gap:8px 18px;align-items:center;margin:-24px 0 24px;padding:10px 0;border-bottom:1px solid var(--hair);background:var(--paper);font-size:13px}
@media (min-height:560px) and (min-width:700px){.tools{position:sticky;top:0;z-index:7}}
.tools fieldset{border:0;margin:0;padding:0;min-width:0}
.tools legend{float:left;padding:3px 8px 0 0;color:var(--quiet)}
.tools .cap{padding:0;font-weight:600;display:block}
.control{display:flex;flex-wrap:wrap;gap:4px 8px;align-items:center;min-width:0}
.control input[type=number]{width:112px}
.tools input{accent-color:var(--soot)}
.control .now{font-weight:700}
.control input[type=range]{width:110px;accent-color:var(--soot);margin:0}
.tools input[type=number],.tools input[type=search],.tools select{font:inherit;color:inherit;background:transparent;border:1px solid var(--quiet);border-radius:14px;padding:2px 10px;min-width:0}
.tools select option{color:var(--soot);background:var(--paper)}
.tools button,.sortable button{font:inherit;color:inherit;background:none;border:1px solid var(--quiet);border-radius:14px;padding:2px 11px;cursor:pointer}
.tools button:hover{background:var(--hair)}
.tools .row{display:flex;flex-wrap:wrap;gap:6px 8px;align-items:center}
.tools .in{display:flex;gap:7px;align-items:center;white-space:nowrap}
.tools .range[hidden]{display:none}
.tools .range input{width:150px;font:inherit;color:inherit;background:transparent;border:1px solid var(--quiet);border-radius:5px;padding:2px 7px}
.acts{float:right;font-size:13px;margin:3px 0 0 12px}
.acts{display:flex;gap:10px;align-items:center}
.acts input{font:inherit;color:inherit;background:transparent;border:1px solid var(--quiet);border-radius:5px;padding:2px 7px;width:150px}
.acts [role=status]{color:var(--quiet);min-width:6ch}
.found th,.found td{background:var(--hair)}
.acts button{font:inherit;color:var(--quiet);background:none;border:0;padding:0 2px;cursor:pointer;text-decoration:underline;text-underline-offset:2px}
.acts button:focus-visible{outline:2px solid var(--soot);outline-offset:2px}
.tools details{position:relative}
.tools summary{cursor:pointer;border:1px solid var(--quiet);border-radius:14px;padding:2px 11px;width:max-content;max-width:100%;list-style:none}
.tools summary::-webkit-details-marker{display:none}
.tools .pick .now{font-weight:700}
.drop{position:absolute;z-index:8;left:0;top:calc(100% + 4px);background:var(--paper);border:1px solid var(--hair);border-radius:8px;box-shadow:0 6px 24px rgb(0 0 0/.18);padding:12px 14px;width:max-content;max-width:min(360px,86vw);max-height:60vh;overflow:auto}
.drop.rules{max-width:min(620px,88vw)}
.drop label{display:flex;gap:8px;align-items:baseline;padding:3px 0}
.drop .said{margin:6px 0 0}
.drop ol{margin:0;padding:0;list-style:none}
.drop li{padding:5px 0;border-top:1px solid var(--hair)}
.drop li:first-child{border-top:0}
.drop p{margin:1px 0 0 25px;color:var(--quiet)}
.counts{flex:1 1 300px;margin:0;color:var(--quiet);min-height:1.45em}
.counts b{color:var(--soot);font-weight:600}
.grid td.moved>span,.heat td.moved,.block.moved,article.moved{outline:2px solid var(--soot);outline-offset:-2px}
.grid td.covered>span,.heat td.covered,article.covered{outline:1px dashed var(--quiet);outline-offset:-1px}
.grid td.reached>span,.heat td.reached,article.reached{outline:2px solid var(--soot);outline-offset:-2px}
td:focus-visible,article:focus-visible,.tools :focus-visible,.sortable button:focus-visible{outline:2px solid var(--soot);outline-offset:2px}
.sortable button{border:0;padding:0;font-weight:600;text-align:inherit}
.sortable button:hover{text-decoration:underline}
.whybox{position:absolute;z-index:9;background:var(--paper);border:1px solid var(--hair);border-radius:8px;box-shadow:0 6px 24px rgb(0 0 0/.18);padding:12px 16px;width:max-content;max-width:min(430px,90vw);font-size:13.5px}
.whybox p{margin:0}
.whybox ul{margin:6px 0 0;padding:0;list-style:none;color:var(--quiet)}
.whybox .cap{font-weight:600}
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
@media (max-width:700px){.tools{position:relative}.tools details{position:static}.tools .drop{left:0;right:0;top:auto;margin-top:4px;width:auto;max-width:none}}
@media print{.one[hidden]{display:block}.top,.end{position:static}.tools,.whybox,.acts{display:none}}
`
