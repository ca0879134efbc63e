// Scenes and meshes that others wrote: the glTF exporter of three, an open mesh and CC0 environment maps of @pmndrs/assets.
// What is expected of them follows from the specification of glTF 2.0 and from radiometry.
import { expect } from 'chai';
import {
  BoxGeometry,
  Color,
  DirectionalLight,
  Group,
  InstancedMesh,
  Matrix4,
  Mesh,
  MeshPhysicalMaterial,
  MeshStandardMaterial,
  PerspectiveCamera,
  PlaneGeometry,
  PointLight,
  Scene,
  SphereGeometry,
  SpotLight,
} from 'three';
import { GLTFExporter } from 'three/examples/jsm/exporters/GLTFExporter.js';
import { decodeMesh, PLAIN_SPACE, readTexture } from '@dusting/core/formats';
import { compileScene, FILM, filmStatistics, frameOf, renderHere } from '@dusting/core/render';
import { importShot, type ImportedShot } from '@dusting/core/scene';

const render = ({ document, blobs }: ImportedShot, more = {}) => {
  const settings = { ...document.final, width: 24, height: 24, pixelSamples: 16, ...more };
  const scene = compileScene(document, settings, (id) => blobs.get(id)!.bytes);
  const film = renderHere(scene, settings, frameOf(settings));
  return { film, statistics: filmStatistics(film, 1) };
};
const asset = async (name: string) => {
  const { default: text } = (await import(`@pmndrs/assets/${name}.js`)) as { default: string };
  return new Uint8Array(Buffer.from(text.slice(text.indexOf(',') + 1), 'base64'));
};
const settings = (value: object) => ({ name: 'set.json', bytes: new TextEncoder().encode(JSON.stringify(value)) });

/** What browsers have and the exporter asks for. */
class FileReaderOfBlobs {
  result: ArrayBuffer | string | null = null;
  onloadend: (() => void) | null = null;
  readAsArrayBuffer(blob: Blob): void {
    void blob.arrayBuffer().then((buffer) => {
      this.result = buffer;
      this.onloadend?.();
    });
  }
}

async function exported(scene: Scene): Promise<Uint8Array> {
  Object.assign(globalThis, { FileReader: FileReaderOfBlobs });
  const binary = (await new GLTFExporter().parseAsync(scene, { binary: true })) as ArrayBuffer;
  return new Uint8Array(binary);
}

describe('scenes that others wrote', () => {
  it("three's exporter: shapes, nested groups, materials, lights, instances and a camera arrive as they were meant", async () => {
    const scene = new Scene();
    const floor = new Mesh(new PlaneGeometry(10, 10), new MeshStandardMaterial({ color: new Color(0.5, 0.4, 0.3), roughness: 1, metalness: 0 })); // prettier-ignore
    floor.name = 'floor';
    floor.rotation.x = -Math.PI / 2;
    const glass = new MeshPhysicalMaterial({ roughness: 0, transmission: 1, thickness: 0.5, ior: 1.45, attenuationColor: new Color(0.9, 0.6, 0.2), attenuationDistance: 0.3, clearcoat: 0.5, clearcoatRoughness: 0.1, dispersion: 2 }); // prettier-ignore
    glass.name = 'honey';
    const ball = new Mesh(new SphereGeometry(0.5, 32, 16), glass);
    ball.name = 'drop';
    ball.position.set(0, 0.5, 0);
    const shelf = new Group();
    shelf.position.set(1, 0, -1);
    shelf.rotation.y = Math.PI / 2;
    shelf.add(ball);
    const lamp = new PointLight(new Color(1, 0.5, 0.25), 20);
    lamp.position.set(0, 3, 0);
    const spot = new SpotLight(0xffffff, 5, 7, Math.PI / 6, 0.5);
    const sun = new DirectionalLight(0xffffff, 2);
    for (const light of [spot, sun]) light.add(light.target.translateZ(-1));
    const boxes = new InstancedMesh(new BoxGeometry(0.2, 0.2, 0.2), new MeshStandardMaterial(), 3);
    for (let i = 0; i < 3; i++) boxes.setMatrixAt(i, new Matrix4().makeTranslation(i - 1, 0.1, 1));
    boxes.name = 'frames';
    const camera = new PerspectiveCamera(35, 1.5, 0.1, 100);
    camera.position.set(0, 2, 6);
    camera.lookAt(0, 0, 0);
    scene.add(floor, shelf, lamp, spot, sun, boxes, camera);
    scene.updateMatrixWorld(true);
    const shot = await importShot([{ name: 'room.glb', bytes: await exported(scene) }]);
    const { document } = shot;
    expect(shot.unsupported).to.deep.equal([]);
    const honey = Object.values(document.surfaces).find((s) => s.name === 'honey')!;
    expect(honey).to.include({ transmission_weight: 1, specular_ior: 1.45, coat_weight: 0.5, coat_roughness: 0.1 });
    expect(honey.transmission_depth).to.be.closeTo(0.3, 1e-6);
    honey.transmission_color.forEach((c, k) => expect(c).to.be.closeTo([0.9, 0.6, 0.2][k], 1e-6));
    expect(honey.transmission_dispersion_abbe_number).to.equal(10); // KHR_materials_dispersion: 20 / V
    const drop = Object.values(document.objects).find((o) => o.name === 'drop')!;
    expect([3, 7, 11].map((k) => Number(drop.transform[k].toFixed(6)))).to.deep.equal([1, 0.5, -1]);
    expect(Object.values(document.objects).filter((o) => o.name.startsWith('frames'))).to.have.length(3);
    const lights = Object.values(document.lights);
    expect(lights.map((l) => [l.kind, Math.round(l.strength)])).to.deep.equal([['point', 20], ['spot', 5], ['sun', 2]]); // prettier-ignore
    expect(lights[1]).to.include({ reach: 7 });
    expect(lights[1].outerCone).to.be.closeTo(30, 1e-4);
    expect(document.cameras[document.camera].verticalAngle).to.be.closeTo(35, 1e-4);
    const { film, statistics } = render(shot);
    expect(statistics.badSamples).to.equal(0);
    expect(statistics.meanLuminance).to.be.above(0.05);
    expect(film.data.every(Number.isFinite)).to.equal(true);
  });

  it('a floor under a point light of the exporter has the brightness of the inverse square law', async () => {
    const scene = new Scene();
    const floor = new Mesh(new PlaneGeometry(50, 50), new MeshPhysicalMaterial({ color: new Color(0.5, 0.5, 0.5), roughness: 1, specularIntensity: 0 })); // prettier-ignore
    const lamp = new PointLight(0xffffff, 8);
    lamp.position.set(0, 0, 2);
    const camera = new PerspectiveCamera(0.05, 1, 0.1, 100);
    camera.position.set(0, 0, 1.5);
    scene.add(floor, lamp, camera);
    scene.updateMatrixWorld(true);
    const { statistics } = render(await importShot([{ name: 'floor.glb', bytes: await exported(scene) }]));
    expect(statistics.meanLuminance).to.be.closeTo((0.5 / Math.PI) * (8 / 4), 1e-3);
  });

  it('an open mesh, packed by Draco: closed as it should be', async () => {
    const bytes = await asset('models/bunny.glb');
    const camera = { name: 'front', transform: [1, 0, 0, 0, 0, 1, 0, 0.5, 0, 0, 1, 4], verticalAngle: 30 };
    const shot = await importShot([{ name: 'hare.glb', bytes }, settings({ cameras: { front: camera }, environment: { color: [1, 1, 1] } })]); // prettier-ignore
    const [mesh] = Object.values(shot.document.meshes).map(({ blob }) => decodeMesh(shot.blobs.get(blob)!.bytes));
    expect(mesh.indices.length / 3).to.be.above(1000);
    // a white matt body disappears in a furnace wherever it is met
    const [surface] = Object.keys(shot.document.surfaces);
    Object.assign(shot.document.surfaces[surface], {
      base_color: [1, 1, 1],
      base_metalness: 0,
      specular_weight: 0,
      maps: {},
    });
    const depth = { diffuse: 200, specular: 4, transmission: 4, volume: 0, total: 200 };
    const { film, statistics } = render(shot, { depth });
    expect(statistics.meanLuminance).to.be.closeTo(1, 0.01);
    let met = 0;
    for (let i = 0; i < film.data.length; i += FILM.stride) met += film.data[i + FILM.surfaceSamples] > 0 ? 1 : 0;
    expect(met).to.be.above(50);
  });

  for (const name of ['studio', 'sunset'])
    it(`the environment map ${name}: a white floor shows the irradiance that its pixels add up to`, async () => {
      const scene = new Scene();
      const floor = new Mesh(new PlaneGeometry(50, 50), new MeshPhysicalMaterial({ color: 0xffffff, roughness: 1, specularIntensity: 0 })); // prettier-ignore
      floor.rotation.x = -Math.PI / 2;
      const camera = new PerspectiveCamera(0.05, 1, 0.1, 100);
      camera.position.set(0, 3, 0);
      camera.lookAt(0, 0, 0);
      scene.add(floor, camera);
      scene.updateMatrixWorld(true);
      const map = { name: `${name}.exr`, bytes: await asset(`hdri/${name}.exr`) };
      const shot = await importShot([{ name: 'floor.glb', bytes: await exported(scene) }, map, settings({ environment: { picture: map.name } })]); // prettier-ignore
      const { statistics } = render(shot, { pixelSamples: 256 });
      const { width, height, texels } = readTexture(map.bytes, map.name, PLAIN_SPACE);
      let irradiance = 0;
      for (let y = 0; y < height / 2; y++) {
        const polar = (Math.PI * (y + 0.5)) / height;
        const area = (Math.PI / height) * ((2 * Math.PI) / width) * Math.sin(polar);
        for (let x = 0; x < width; x++) {
          const [r, g, b] = texels.subarray((y * width + x) * 4);
          irradiance += (0.2126 * r + 0.7152 * g + 0.0722 * b) * Math.cos(polar) * area;
        }
      }
      expect(statistics.meanLuminance).to.be.closeTo(irradiance / Math.PI, 0.01 * (irradiance / Math.PI));
    });
});
