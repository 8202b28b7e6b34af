import { askAhead } from './api/ahead'

// a page that begins with a character asks for it, its meshes and what draws them all at once
const [, id, station] = /^\/characters\/(\d+)\/(\w+)/.exec(window.location.pathname) ?? []
const ahead = id ? askAhead(Number(id)) : null
if (ahead) void Promise.allSettled([ahead, import('./shell/Bench'), import('./stage/Stage')]) // what fails is said where it is wanted
void import('./app').then(({ begin }) => begin(ahead, station))
