import { measureClip } from '@bevrin/media';
let prof={};
const t0=performance.now();
await measureClip(process.argv[2],{profile:p=>prof=p});
console.log(performance.now()-t0, prof);
