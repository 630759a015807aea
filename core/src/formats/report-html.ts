/** A report for others: one HTML page of its own, without scripts or anything from elsewhere, made to be printed. */
import { causesOf, type Cause } from '../causes/causes.ts';
import { byPlace, families, findings, markOf, placeOf, threeAnswers, type Mark } from '../report/answers.ts';
import { replay } from '../play/replay.ts';
import { decides, type Report, type Verdict } from '../report/report.ts';
import { standsAt } from '../document/edits/ground.ts';
import { leadsTo } from '../document/ground.ts';
import { levelsOf, type FlowDocument, type Step } from '../document/types.ts';
import { placesInOrder } from '../lane/order.ts';
import { playedWords } from '../words/steps.ts';
import { timeRows } from '../sheet/times.ts';
import { bestWords } from '../words/times.ts';
import { arrivalWords, conditionWords, counted, goalWords, placeName, plural, spotName } from '../words/words.ts';
import { escaped } from './junit.ts';
import { laneSvg } from './lane-svg.ts';
import { planSvg } from './plan-svg.ts';
import { placeKinds } from '../vocabulary/places.ts';

const marks: Record<Mark, string> = {
  holds: '● yes',
  fails: '✕ no',
  open: '? open',
  accepted: '◐ accepted',
  remark: '▵ note',
  unreached: '– unreached'
};
const severities = { error: 'Error', warning: 'Warning', information: 'Note' };

const style = `
body { font: 10.5pt/1.4 sans-serif; color: #161c26; margin: 24px auto; max-width: 1000px; padding: 0 20px; }
h1 { font-size: 20pt; margin: 0; } h2 { font-size: 14pt; margin: 22px 0 6px; break-after: avoid; } h3 { font-size: 11pt; margin: 12px 0 2px; }
p { margin: 2px 0; } .dim { color: #4c5866; } .answers { list-style: none; padding: 0; font-size: 12pt; }
.plan { break-inside: avoid; } .plan svg { max-width: 100%; height: auto; max-height: 150mm; }
.lane svg { width: 100%; height: auto; border: 1px solid #c6d0de; }
table { border-collapse: collapse; width: 100%; font-size: 9.5pt; } th, td { text-align: left; vertical-align: top; padding: 2px 8px 2px 0; border-bottom: 1px solid #c6d0de; }
thead { display: table-header-group; } tr, .finding { break-inside: avoid; } .fails { color: #8f2c1e; font-weight: bold; }
.follows { margin: 0 0 0 18px; padding: 0; }
.finding { border-left: 4px solid #a33a2a; padding: 2px 0 2px 10px; margin: 8px 0; } .finding.warning { border-left-style: dashed; } .finding.information, .finding.accepted { border-left: 4px dotted #44587f; }
ol { margin: 2px 0 2px 20px; padding: 0; columns: 2; } ol li { break-inside: avoid; }
@media print { body { margin: 0; max-width: none; padding: 0; } @page { size: A4 landscape; margin: 12mm; } }
`;

/** What stands in the head of a report. */
export interface ReportHead {
  /** Of which revision of the flow it is, where revisions are kept. */
  revision?: number;
  date: Date;
  /** What explains the findings, where fixes have been tried; else what is known without. */
  causes?: Cause[];
}

/** The page; `report` has to be one of this document. */
export function reportHtml(document: FlowDocument, report: Report, head: ReportHead): string {
  const found = findings(report);
  const causes = (head.causes ?? causesOf(document, report)).filter(({ verdict }) => decides(verdict));
  const explained = new Set(causes.flatMap(({ follows }) => follows));
  const remarks = found
    .filter(({ accepted, severity }) => accepted === undefined && severity === 'information')
    .filter((verdict) => !explained.has(verdict));
  const accepted = found.filter((verdict) => verdict.accepted !== undefined);
  const part = (title: string, body: string) => (body === '' ? '' : `<h2>${title}</h2>\n${body}\n`);
  return `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><title>${escaped(document.name)}: report</title><style>${style}</style></head>
<body>
<h1>${escaped(document.name)}</h1>
<p class="dim">${head.revision === undefined ? '' : `Revision ${head.revision}, `}${head.date.toISOString().slice(0, 10)}; ${report.states} states of play looked at${report.complete ? '' : ', not all of them'}</p>
${document.brief ? `<p>${escaped(document.brief)}</p>` : ''}
${answers(report)}
<div class="lane">${laneSvg(document).replace(/^<\?xml[^>]*\?>\s*/, '')}</div>
${part('Places', places(document, report))}${part('Objectives', objectives(document, report))}${part('Inside levels', insides(document, report))}${part('Plans', plans(document, report))}${part('Times', times(document, report))}${part('Findings', causes.length > 0 ? causes.map((cause) => causeOf(document, cause)).join('\n') : '<p>None.</p>')}
${part('Accepted', accepted.map((verdict) => finding(document, verdict)).join('\n'))}
${part('Notes', remarks.map((verdict) => finding(document, verdict)).join('\n'))}
${part('What the player carries on arrival', arrivals(document, report))}
</body>
</html>
`;
}

/** Each plan with what is found in it, the cells that a finding speaks of marked. */
function plans(document: FlowDocument, report: Report): string {
  return levelsOf(document)
    .flatMap(([id, level]) => {
      if (!level.plan) return [];
      const found = findings(report).filter((verdict) => placeOf(document, verdict) === id);
      const cells = found.flatMap(({ why = [] }) => why.flatMap((reason) => reason.cells ?? []));
      const said = found.map(({ message }) => `<p class="fails">${escaped(message)}</p>`).join('');
      const svg = planSvg(level, level.plan, { marked: cells }).replace(/^<\?xml[^>]*\?>\s*/, '');
      return [`<div class="plan"><h3>${escaped(level.name)}</h3>${svg}${said}</div>`];
    })
    .join('\n');
}

function answers(report: Report): string {
  const { completed, reached, free } = threeAnswers(report);
  const lines = [
    [completed, `${completed.good} of ${completed.of} ${plural('level', completed.of)} can be completed`],
    [reached, `${reached.good} of ${reached.of} places are reached`],
    [free, free.mark === 'fails' ? `the player can get stuck, in ${free.against.length} ways` : 'the player never gets stuck']
  ] as const;
  return `<ul class="answers">${lines
    .map(([{ mark }, words]) => `<li class="${mark}">${marks[mark].split(' ')[0]} ${words}</li>`)
    .join('')}</ul>`;
}

function places(document: FlowDocument, report: Report): string {
  const verdicts = byPlace(document, report);
  const rows = placesInOrder(document).map(({ place, number }) => {
    const cells = families.map(({ id }) => {
      const mark = markOf(verdicts.get(place)?.get(id) ?? []);
      return `<td class="${mark ?? ''}">${mark ? marks[mark] : ''}</td>`;
    });
    const { kind } = document.places[place]!;
    const won = kind === 'level' ? escaped(goalWords(document, place)) : placeKinds[kind].hint;
    return `<tr><td>${number ?? ''}</td><th scope="row">${escaped(placeName(document, place))}</th><td>${won}</td>${cells.join('')}</tr>`;
  });
  const heads = families.map(({ words }) => `<th scope="col">${words}</th>`).join('');
  return `<table><thead><tr><th scope="col">No.</th><th scope="col">Place</th><th scope="col">Won by</th>${heads}</tr></thead><tbody>${rows.join('\n')}</tbody></table>`;
}

/** The objectives level by level, and whether each can be met. */
function objectives(document: FlowDocument, report: Report): string {
  const rows = placesInOrder(document).flatMap(({ place }) => {
    const { name, ...level } = document.places[place]!;
    if (level.kind !== 'level') return [];
    return Object.entries(level.objectives).map(([id, { text, met, needed }]) => {
      const found = report.checks.filter(({ subject }) => subject === `${place}/${id}`);
      const mark = markOf(found);
      const said = [name, `${text}${needed ? ' (needed)' : ''}`, conditionWords(document, { place }, met)];
      const cells = said.map((cell) => `<td>${escaped(cell)}</td>`);
      return `<tr>${cells.join('')}<td class="${mark ?? ''}">${mark ? marks[mark] : ''}</td></tr>`;
    });
  });
  if (rows.length === 0) return '';
  const heads = ['Level', 'Objective', 'Met if', 'Can be met'].map((words) => `<th scope="col">${words}</th>`).join('');
  return `<table><thead><tr>${heads}</tr></thead><tbody>${rows.join('\n')}</tbody></table>`;
}

/** The spots of levels, what stands there and where the player gets from them, and whether the player comes there. */
function insides(document: FlowDocument, report: Report): string {
  const rows = placesInOrder(document).flatMap(({ place }) => {
    const level = document.places[place]!;
    if (level.kind !== 'level') return [];
    return Object.entries(level.spots).map(([spot, { name }]) => {
      const there = Object.values(level.pieces).flatMap((piece) => {
        const n = standsAt(piece, spot);
        return n > 0 ? [counted(piece.name, n)] : [];
      });
      const ways = Object.values(level.passages).flatMap((passage) => {
        const to = leadsTo(passage, spot);
        if (to === undefined) return [];
        const asks = passage.if === undefined ? '' : ` (if ${conditionWords(document, { place }, passage.if)})`;
        return [`${passage.name === undefined ? '' : `${passage.name}: `}${spotName(document, { place }, to)}${asks}`];
      });
      const mark = markOf(report.checks.filter((each) => each.check === 'spot-reached' && each.subject === `${place}/${spot}`));
      const cells = [level.name, name, there.join(', '), ways.join('; ')].map((cell) => `<td>${escaped(cell)}</td>`);
      return `<tr>${cells.join('')}<td class="${mark ?? ''}">${mark ? marks[mark] : ''}</td></tr>`;
    });
  });
  if (rows.length === 0) return '';
  const heads = ['Level', 'Spot', 'Here', 'Leads to', 'Reached'].map((words) => `<th scope="col">${words}</th>`).join('');
  return `<table><thead><tr>${heads}</tr></thead><tbody>${rows.join('\n')}</tbody></table>`;
}

/** A cause, its fix where one was tried, and what follows from it, each on a line. */
function causeOf(document: FlowDocument, { verdict, follows, fix }: Cause): string {
  const fixed = fix ? `<p>Fix: ${escaped(fix.change.label)} (removes ${fix.removes} ${plural('finding', fix.removes)})</p>` : '';
  const after = follows.map((each) => `<li><b>${severities[each.severity]}.</b> ${escaped(each.message)}</li>`).join('');
  const list = after === '' ? '' : `<p>From this follows:</p><ul class="follows">${after}</ul>`;
  return finding(document, verdict, `${fixed}${list}`);
}

function finding(document: FlowDocument, verdict: Verdict, more = ''): string {
  const { message, why = [], accepted, severity, route } = verdict;
  const kind = accepted === undefined ? severity : 'accepted';
  const reasons = why.map(({ text }) => `<p>${escaped(text)}</p>`).join('');
  const meant = accepted === undefined ? '' : `<p>Accepted: <i>${escaped(accepted)}</i></p>`;
  return `<div class="finding ${kind}"><p><b>${severities[severity]}.</b> ${escaped(message)}</p>${reasons}${meant}${route ? steps(document, route) : ''}${more}</div>`;
}

/** The steps to a finding; the same event several times over is one line. */
function steps(document: FlowDocument, route: Step[]): string {
  const lines: { words: string; times: number }[] = [];
  for (const played of replay(document, route)) {
    if (played.from === undefined) continue;
    const words = `${placeName(document, played.from)}: ${playedWords(document, played)}`;
    const last = lines.at(-1);
    if (last?.words === words) last.times++;
    else lines.push({ words, times: 1 });
  }
  if (lines.length === 0) return '';
  return `<ol>${lines.map(({ words, times }) => `<li>${escaped(words)}${times > 1 ? `, ${times} times` : ''}</li>`).join('')}</ol>`;
}

/** Of each level with a plan: how long it takes at the least, and what it is given. */
function times(document: FlowDocument, report: Report): string {
  const rows = timeRows(document, report.times ?? {}).map(({ name, figures, estimate, pieces }) => {
    const cells = [bestWords(figures), figures.limit ?? '', estimate ?? '', pieces];
    return `<tr><th scope="row">${escaped(name)}</th>${cells.map((each) => `<td>${each}</td>`).join('')}</tr>`;
  });
  if (rows.length === 0) return '';
  const heads = ['Level', 'Best (s)', 'Given (s)', 'Takes (s)', 'Pieces'].map((head) => `<th scope="col">${head}</th>`).join('');
  return `<table><thead><tr>${heads}</tr></thead><tbody>${rows.join('\n')}</tbody></table>`;
}

function arrivals(document: FlowDocument, report: Report): string {
  const variables = Object.entries(document.variables);
  if (variables.length === 0) return '';
  const heads = variables.map(([, { name }]) => `<th scope="col">${escaped(name)}</th>`).join('');
  const rows = Object.entries(report.arrivals).map(([place, values]) => {
    const cells = variables.map(([id, variable]) => `<td>${values[id] ? escaped(arrivalWords(values[id], variable)) : ''}</td>`);
    return `<tr><th scope="row">${escaped(placeName(document, place))}</th>${cells.join('')}</tr>`;
  });
  return `<table><thead><tr><th scope="col">Place</th>${heads}</tr></thead><tbody>${rows.join('\n')}</tbody></table>`;
}
