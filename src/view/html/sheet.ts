/**
 * The common style sheet: page, tables, heatmaps, legends, charts, print. A dab is a painted cell
 * of a table: rounded, with a slightly darker lower edge. A heatmap cell is flat.
 */
export const STYLE = `*{box-sizing:border-box}
html{background:var(--paper);-webkit-text-size-adjust:100%}
body{margin:0;color:var(--soot);font:15px/1.45 "Source Sans 3","Segoe UI",-apple-system,BlinkMacSystemFont,Roboto,Cantarell,Ubuntu,"Noto Sans","Helvetica Neue","Liberation Sans",Arial,sans-serif;font-variant-numeric:tabular-nums lining-nums}
main{max-width:1240px;margin:0 auto;padding:32px 44px 64px}
h1,h2,h3{font-weight:700;margin:0;letter-spacing:-.012em}
h1{font-size:30px;line-height:1.15;letter-spacing:-.018em}
h2,h3{font-size:18.5px;line-height:1.3}
.by{color:var(--quiet);margin:4px 0 0;display:flex;flex-wrap:wrap;gap:2px 24px;justify-content:space-between;font-size:14px}
.lead{max-width:70ch;margin:14px 0 0}
header{padding-bottom:14px}
.strip{position:relative;margin:0 0 14px}
.strip .of{color:var(--quiet);font-size:13px;line-height:18px;margin:0 0 12px}
.strip ol{list-style:none;margin:0;padding:0;display:flex}
.band{flex-wrap:wrap;gap:6px 0}
.band li{flex:1 1 0;min-width:104px;container-type:inline-size}
.band a{position:relative;isolation:isolate;display:flex;flex-direction:column;justify-content:center;height:100%;min-height:66px;padding:9px 18px;-webkit-background-clip:text;background-clip:text;font-size:13.5px;line-height:1.3;text-decoration:none}
:where(.band a){color:var(--soot)}
.band a::before{content:'';position:absolute;z-index:-1;inset:2px -4px;background:inherit;background-clip:border-box;border-radius:9px;box-shadow:inset 0 0 0 1.6px var(--edge,var(--hair)),inset 0 0 13px var(--edge,transparent);filter:url(#brush)}
.band li:first-child a::before{left:0}
.band li:last-child a::before{right:0}
.band a>*{overflow:hidden;text-overflow:ellipsis;white-space:nowrap}
.band b{font-size:22px;font-weight:700;line-height:1.25;margin-right:4px}
.band .i{width:18px;height:18px;display:inline-block;vertical-align:-.08em;margin-right:8px}
.band small{font-size:13px}
@container (max-width:150px){.band a{padding:9px 11px}.band a>span{white-space:normal;line-height:1.2}.band b{display:block}.band small{display:none}}
.band a:focus-visible{outline:2px solid var(--soot);outline-offset:2px;border-radius:9px}
.strip .before{position:absolute;left:0;right:0;top:22px;gap:2px}
.before li{height:6px;min-width:3px;flex:1 1 0;border-radius:3px;box-shadow:inset 0 0 0 1px var(--edge,var(--hair))}
header+section,header+div:not(.tools),.strip+section,.strip+div:not(.tools),.strip+h2{margin-top:26px}
section{margin:0 0 44px;min-width:0}
.pair{display:flex;flex-wrap:wrap;gap:0 52px;align-items:flex-start}
.pair>section{flex:1 1 420px}
.pair>section.fit{flex:0 1 auto;max-width:100%}
.pair>.fit>.keys,.pair>.fit>.said,.pair>.fit>.note{width:0;min-width:100%}
.flow>section.fit{flex:0 1 auto}
.flow>section.fit:has(>.words){flex:1 1 420px}
.same{color:var(--quiet);font-size:13px;margin:8px 0 0}
.same a{color:inherit}
@media (min-width:1000px){
.aside{display:grid;grid-template-columns:minmax(0,max-content) minmax(220px,1fr);column-gap:52px;align-items:start}
.aside>*{grid-column:1/-1}
.aside>.wide{grid-column:1}
.aside>.keys{grid-column:2}
.aside>.wide~:not(.keys){order:1}
.aside .key{flex-direction:column;align-items:flex-start}
.aside .acts{float:none;z-index:1;grid-column:1;grid-row:1;justify-self:end}
.aside h2,.aside h3{grid-row:1}
}
.note{color:var(--quiet);font-size:13.5px;margin:1px 0 12px}
.said{color:var(--quiet);font-size:13px;margin:10px 0 0;padding:0;list-style:none}
footer{border-top:1px solid var(--hair);margin-top:10px;padding-top:14px;color:var(--quiet);font-size:13px}
footer h2{font-size:14px;color:var(--quiet)}
footer ul{margin:4px 0 0;padding:0;list-style:none}
.v{position:absolute;width:1px;height:1px;margin:-1px;padding:0;overflow:hidden;clip-path:inset(50%);white-space:nowrap;border:0}
.wide{overflow-x:auto;position:relative;margin-left:-10px;padding-left:10px}
@media (min-width:1240px){.wide.whole{overflow:visible}}
.long{overflow:auto;max-height:92vh}
.long thead{position:sticky;top:0;z-index:2;background:var(--paper)}
table{border-collapse:separate;border-spacing:0}
th,td{unicode-bidi:isolate}
th{font-weight:600;text-align:left}
thead th{font-size:13px;color:var(--quiet);vertical-align:bottom;padding:4px 14px 6px;white-space:nowrap;max-width:34ch;overflow:hidden;text-overflow:ellipsis}
thead th:first-child,thead .c{padding-left:0}
thead th.n{text-align:right}
thead th.x{padding-left:22px}
thead th.m{text-align:center}
thead tr:last-child th{border-bottom:1px solid var(--hair)}
tbody th{padding:5px 22px 5px 0;font-weight:400}
tbody th>span{display:block;width:max-content;max-width:34ch;overflow-wrap:anywhere}
tbody th>span.dab,tbody th>span.rich{display:flex;gap:10px;align-items:center;padding:2px 10px;margin-left:-10px;border-radius:5px}
td{padding:2px 0 2px 8px;text-align:right;white-space:nowrap}
td>span{display:flex;justify-content:space-between;align-items:center;gap:12px;min-height:27px;padding:3px 14px;border-radius:5px}
td>span>b{font-weight:inherit;margin-left:auto}
.d2 th{padding-left:16px}.d3 th{padding-left:32px}.d4 th{padding-left:48px}
.g th,.g td{font-weight:600;border-top:1px solid var(--hair);padding-top:7px}
.g th{padding-bottom:2px}
.t th,.t td,.s th,.s td{font-weight:600}
.t:first-child th,.t:first-child td{border-bottom:1.5px solid var(--soot)}
.t:last-child th,.t:last-child td{border-top:1.5px solid var(--soot)}
.t+.g th,.t+.g td,.g:first-child th,.g:first-child td{border-top:0}
.dab,td>span[class]{box-shadow:inset 0 -2px 0 var(--edge,transparent)}
.w td{padding-left:0}
.w td>span{border-radius:0;padding-left:22px}
.w td:last-child>span{border-radius:0 5px 5px 0}
.w th+td>span{border-radius:5px 0 0 5px}
.w th:has(.dab){padding-right:0}
.w th>span.dab{border-radius:5px 0 0 5px;width:auto;max-width:none}
.w th:has(.dab)+td>span{border-radius:0}
.sw{box-shadow:inset 0 -2px 0 var(--edge,transparent)}
.i{width:15px;height:15px;flex:none;display:block}
.bar{flex:none;display:block;width:96px;height:13px;position:relative}
.bar::before{content:'';position:absolute;inset:0 calc(100% - var(--t)) 0 var(--f);background:var(--bar,var(--stone));border:1px solid var(--bare,var(--bar,var(--stone)));border-radius:2px}
.high::after,.low::after{content:'';position:absolute;top:1.5px;border:5px solid transparent}
.high::after{right:-13px;border-left-color:var(--bare,var(--bar,var(--stone)))}
.low::after{left:-13px;border-right-color:var(--bare,var(--bar,var(--stone)))}
.dot.high::after{right:-18px}
.dot.low::after{left:-18px}
.bar.high:not(.fade)::before{background:linear-gradient(105deg,var(--bar,var(--stone)) 0 78%,transparent 78% 82%,var(--bar,var(--stone)) 82% 86%,transparent 86% 90%,var(--bar,var(--stone)) 90%)}
.bar.low:not(.fade)::before{background:linear-gradient(105deg,var(--bar,var(--stone)) 0 10%,transparent 10% 14%,var(--bar,var(--stone)) 14% 18%,transparent 18% 22%,var(--bar,var(--stone)) 22%)}
.bar.fade::before{background:linear-gradient(90deg,color-mix(in oklab,var(--bar) 12%,var(--paper)),var(--bar))}
.heat td>.bar{margin:0 auto;width:80%}
td em,tbody th em{font-style:normal;font-size:.92em}
td em{min-width:var(--flag,0);text-align:left}
td>span,.heat td{position:relative}
td>span>.i.a{position:absolute;right:1px;width:12px;height:12px}
.a>span,th.a.n{padding-right:34px}
.a>span>.i.a{right:13px;width:14px;height:14px}
td em.o{position:absolute;right:2px;min-width:0;font-size:9px}
.heat td em.o{top:1px;font-size:7px}
.pic{height:22px;max-width:44px;object-fit:contain;flex:none}
.line{fill:none;stroke:currentColor;stroke-width:2.3;stroke-linecap:round;stroke-linejoin:round}
.full{fill:currentColor}
.heat thead th{padding:3px 2px;font-weight:400;font-size:12px}
.heat thead th.n,.heat thead th.m{text-align:center}
.heat thead tr:last-child th:first-child{padding-left:0;font-size:13px;font-weight:600}
.heat thead th.y{font-weight:600;font-size:13px;border-bottom:0}
.heat thead th.e,.heat tbody td.e{border-left:2px solid var(--paper)}
.heat tbody th{padding:0 16px 0 0}
.heat tbody th>span{max-width:30ch;white-space:nowrap;overflow:hidden;text-overflow:ellipsis}
.heat td{padding:0;height:31px;min-width:27px;text-align:center;font-size:12px}
.heat td>b{font-weight:inherit;padding:0 5px}
.heat td>.i{display:inline-block;width:10px;height:10px;vertical-align:-.5px;margin-left:5px}
.heat td>.i~b{padding-left:3px}
.heat td>.a{margin:0 4px 0 -1px}
.no{background:repeating-linear-gradient(135deg,var(--hair) 0 1px,transparent 1px 6px)}
.full-width{width:100%}
.keys{display:flex;flex-wrap:wrap;gap:0 40px;align-items:baseline}
.aside>.keys{display:block}
.key{list-style:none;display:flex;flex-wrap:wrap;gap:5px 20px;margin:10px 0 0;padding:0;font-size:13px;color:var(--quiet);align-items:center}
.key li{display:flex;align-items:center;gap:8px}
.key strong{font-weight:600;color:var(--soot)}
.key .of{max-width:100%}
.sw{min-width:21px;height:19px;border-radius:4px;display:flex;align-items:center;justify-content:center;gap:3px}
.key .ramp{display:grid;grid-template-columns:repeat(3,auto);gap:3px 0;width:min(340px,100%);justify-content:space-between}
.ramp i{grid-column:1/-1;height:12px;border-radius:3px}
.ramp span:nth-of-type(2){text-align:center}
.ramp span:last-child{text-align:right}
.chart svg{display:block;max-width:100%;height:auto}
.panels{display:grid;grid-template-columns:repeat(auto-fill,minmax(max(min(100%,230px),(100% - (var(--row) - 1)*18px)/var(--row)),1fr));gap:10px 18px}
figure{margin:0}
figcaption{font-weight:600;font-size:13.5px}
.ser{width:22px;height:16px;flex:none}
.sec{font-size:21px;margin:8px 0 22px;padding-top:22px;border-top:1px solid var(--hair)}
.nums{margin:10px 0 0;font-size:13px}
.nums summary{color:var(--quiet);cursor:pointer;width:max-content}
.nums table{margin-top:6px}
.list th,.list td{padding:2px 16px 2px 0;text-align:left;font-weight:400}
.list thead th{font-weight:600}
.list td.n{text-align:right}
.none{color:var(--quiet);margin:8px 0 0}
.close tbody th{padding-top:1px;padding-bottom:1px}
.close td{padding-top:0;padding-bottom:0}
.close td>span{min-height:23px;padding-top:1px;padding-bottom:1px}
.grid.wide tbody th,.grid.wide td{padding-top:7px;padding-bottom:7px}
.f th,.f td{border-top:1px solid var(--hair)}
.f:first-child th,.f:first-child td{border-top:0}
.block{padding:0 0 0 2px}
.block>span{border-radius:0;min-height:33px}
td.x{text-align:left}
td.x>span{justify-content:flex-start}
td.x>span>b{margin-left:0}
td.k,th.k{text-align:left;padding-left:18px}
.dot{flex:none;display:block;width:96px;height:13px;position:relative;background:linear-gradient(var(--hair),var(--hair)) 0 6px/100% 1px no-repeat}
.dot::before{content:'';position:absolute;left:calc(var(--t) - 5px);top:1.5px;width:10px;height:10px;border-radius:50%;background:var(--bar,var(--stone));border:1px solid var(--bare,var(--soot))}
.tr{display:inline-block;position:relative;vertical-align:middle;border-radius:4px}
td>.tr{display:inline-block;padding:0;min-height:0}
.spark path,.trend path{fill:none;stroke:currentColor;stroke-width:1.6;stroke-linejoin:round;stroke-linecap:round}
.spark,.trend{display:block;color:var(--soot)}
.spark circle,.trend circle{fill:currentColor}
.trend .guide{stroke-width:1;stroke:var(--quiet)}
.trend .ground{fill:var(--paper)}
.spark .open,.trend .open{fill:var(--paper);stroke:currentColor;stroke-width:1.4}
.trend text{font-size:12px;fill:currentColor}
.trend .q{fill:var(--quiet)}
.trend .h{font-weight:600}
.tip{display:none;position:absolute;right:0;bottom:100%;z-index:5;background:var(--paper);border:1px solid var(--hair);border-radius:6px;box-shadow:0 3px 14px rgb(0 0 0/.16)}
.tip .all{display:block;columns:2;column-gap:18px;padding:2px 12px 10px;font-size:12px}
.tip .all>span{display:flex;justify-content:space-between;gap:10px;break-inside:avoid}
.tr:hover>.tip,.tr:focus>.tip{display:block}
.tr:focus-visible,.wide:focus-visible,a:focus-visible,summary:focus-visible{outline:2px solid var(--soot);outline-offset:2px}
.cards{display:grid;grid-template-columns:repeat(auto-fit,minmax(min(210px,100%),1fr));gap:18px;grid-auto-rows:1fr}
@media (max-width:480px){.cards{grid-auto-rows:auto}}
.card{border:1px solid var(--hair);border-radius:8px;padding:14px 18px 16px;display:flex;flex-direction:column;gap:3px;min-width:0;container-type:inline-size}
.card.dab{border-color:transparent;box-shadow:inset 0 -3px 0 var(--edge)}
.card .cap{font-size:14px;font-weight:600}
.card p{margin:0}
.card .big{font-size:clamp(18px,11cqi,30px);line-height:1.2;font-weight:600;display:flex;align-items:center;gap:10px;overflow-wrap:anywhere}
.card .big>.i{width:22px;height:22px}
.card .st,.card .ch{font-size:13.5px;display:flex;gap:7px;align-items:flex-start}
.card .ch>.i,.card .st>.i{margin-top:2px}
.card .tr{margin-top:auto;padding-top:8px;align-self:flex-start}
.card .spark{color:inherit}
.card .tip{right:auto;left:0}
.words{margin:0;padding:0;list-style:none;max-width:78ch}
.words li{padding:5px 0;line-height:1.5}
.tag{display:inline-flex;gap:6px;align-items:center;padding:1px 9px;border-radius:5px;margin-right:1px;vertical-align:baseline}
.tag>.i{width:13px;height:13px}
.ones{display:flex;flex-wrap:wrap;gap:22px 34px}
.one{border-top:1px solid var(--hair);padding-top:10px;max-width:100%;overflow-x:auto}
.one .cap{font-weight:600;margin:0}
.pos{color:var(--quiet);font-size:13px;margin:0 0 4px}
.pos a{color:inherit;margin-left:10px}
.one table{width:100%}
@media (max-width:700px){main{padding:24px 16px 40px}.pair{gap:0}}
@media print{
@page{margin:14mm}
html{background:none}
body{-webkit-print-color-adjust:exact;print-color-adjust:exact}
main{max-width:none;padding:0;zoom:.72}
.wide,.long{overflow:visible;max-height:none}
.wide>table{zoom:var(--fit,1)}
.long thead{position:static}
.nums,.tip{display:none}
.heat td{min-width:0}
.heat thead th{padding:2px 0;font-size:10.5px}
.heat tbody th{padding-right:6px}
.upright{table-layout:fixed}
.upright tr>:first-child{width:17%}
.upright tbody th>span{width:auto;white-space:normal}
.upright td>b,.upright thead tr:last-child th:not(:first-child){writing-mode:vertical-rl}
.upright td>b{display:inline-block;padding:4px 0}
.upright thead tr:last-child th:not(:first-child){padding:3px 0;vertical-align:bottom}
thead{display:table-header-group}
tr,.chart,.key,.card,.one,li,section:has(.chart),section:has(.heat){break-inside:avoid}
h2,h3,.note{break-after:avoid}
section{margin-bottom:26px}
}
@media print{.band a::before{filter:none}}
@media (forced-colors:active){.band a{border:1px solid;background:none}.band a::before{display:none}.before li{forced-color-adjust:none}td>span,.heat td,.sw,.ramp i{forced-color-adjust:none}}
`
