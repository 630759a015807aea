/** A page to play: the whole flow in one file that needs nothing else. */
import { mount } from 'svelte';
import { filled } from '@crow-lane/core/document/fill';
import type { PageGame } from '@crow-lane/core/formats/page';
import Player from './Player.svelte';
import './player.css';

const night = matchMedia('(prefers-color-scheme: dark)');
const follow = () => (document.documentElement.dataset.theme = night.matches ? 'night' : 'daylight');
night.addEventListener('change', follow);
follow();

const target = document.getElementById('page')!;
const game = JSON.parse(document.getElementById('game')!.textContent) as PageGame;
target.replaceChildren();
mount(Player, { target, props: { game, document: filled(game.flow) } });
