import { denoise } from '@dusting/core/image';
for (const [width,height] of [[64,48],[160,90],[400,225]]) {
const n=width*height; const plane=(v:number)=>Float32Array.from({length:n},(_,i)=>v*(1+0.1*Math.sin(i)));
const three=(v:number):any=>[plane(v),plane(v),plane(v)];
const pic={width,height,rgb:three(0.4),error:plane(0.05),albedo:three(0.5),normal:three(0.577),depth:plane(3)};
for(let k=0;k<4;k++){const t=process.cpuUsage(); denoise(pic); console.log(width,(process.cpuUsage(t).user/1000).toFixed(1));}
}
