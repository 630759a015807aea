import { expect } from 'chai';
import { renamePlace } from '../src/document/edits/places.ts';
import { apply } from '../src/document/patch.ts';
import { laneSvg } from '../src/formats/lane-svg.ts';
import { layout } from '../src/lane/layout.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';

/** Every opened element is closed, in order, and nothing but known entities stands in texts. */
function wellFormed(svg: string): void {
  const open: string[] = [];
  const body = svg.replace(/^<\?xml[^>]*\?>/, '');
  for (const [, closing, name, alone] of body.matchAll(/<(\/?)([a-z]+)(?:\s[^<>]*?)?(\/?)>/g)) {
    if (closing) expect(open.pop()).to.equal(name);
    else if (!alone) open.push(name!);
  }
  expect(open).to.deep.equal([]);
  const texts = body.replaceAll(/<[^<>]*>/g, '');
  expect(texts).to.not.match(/[<>]|&(?!amp;|lt;|gt;|quot;)/);
}

describe('the lane as SVG', () => {
  it('has every place, every route and the size of the lane', () => {
    const document = demo('lamplighters-round');
    const svg = laneSvg(document);
    wellFormed(svg);
    const lane = layout(document);
    expect(svg).to.include(`width="${Math.ceil(lane.width)}"`);
    expect(svg.match(/<rect /g)!.length).to.be.at.least(lane.tiles.size);
    expect(svg.match(/<path /g)!.length).to.be.at.least(lane.routes.length * 2);
    expect(svg).to.include('Lamp × 5');
  });

  it('marks both ends of a door that leads both ways', () => {
    const document = demo('ferry-rooms');
    const svg = laneSvg(document);
    wellFormed(svg);
    const { routes } = layout(document);
    const doors = routes.filter(({ back }) => back);
    expect(doors).to.have.length(4);
    expect(svg.match(/rotate\(/g)!.length).to.equal(routes.length + doors.length);
  });

  it('takes names as text, whatever they hold', () => {
    const before = flowOf(threeLamps);
    const document = apply(before, renamePlace(before, 'quay', '<script>&"\u0007 ]]>').patch);
    const svg = laneSvg(document);
    wellFormed(svg);
    expect(svg).to.include('&lt;script&gt;').and.not.include('<script');
  });

  it('is there for a flow without places', () => {
    wellFormed(laneSvg({ ...flowOf(threeLamps), places: {}, orders: {}, rules: [] }));
  });
});
