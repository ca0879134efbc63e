// The shot in 3D, with what helps to judge it. Drawn only when something has changed.
import {
  AmbientLight,
  Box3,
  Box3Helper,
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  Group,
  LineBasicMaterial,
  Matrix4,
  Mesh,
  Scene,
  Vector3,
  WebGLRenderer,
  type Material,
} from 'three';
import { shapeKey, shapeSource } from '@dusting/core/render';
import { sameContent, type ContentRef, type Light, type ShotDocument } from '@dusting/core/scene';
import { meshTools } from '../workers/index.ts';
import type { ModelMesh } from '../workers/meshTools.ts';
import { FramePacer } from './framePacer.ts';
import { groundGrid, helpersOf, type Helper } from './helpers.ts';
import { ACCENT, FACES, LINE_COLORS, LINES, TURNED_FACES, WIRE } from './looks.ts';
import { lightPath, markedPlaces, shadowRay } from './lightPath.ts';
import type { Sketch } from '../stores/diagnosis.ts';
import { draggedLight, type PointerWay } from './draggedLight.ts';
import { lightShadow } from './lightShadow.ts';
import { ModelEye } from './modelEye.ts';
import { disposeAll, linesAt, matrixOf, normalsOf } from './modelParts.ts';
import { pickByColor, type ModelMeshObject } from './pickByColor.ts';

export interface ModelOptions {
  wireframe: boolean;
  /** Back faces in a colour of their own, and the normals of what is selected. */
  faces: boolean;
  seams: boolean;
  grid: boolean;
  /** What is not selected is clear, so that walls hide nothing. */
  clear: boolean;
  /** Where the shadow of the light that is selected falls. */
  shadow: boolean;
  /** Objects are subdivided and displaced, as they are rendered. */
  shaped: boolean;
}
export const MODEL_DEFAULTS: ModelOptions = {
  wireframe: false,
  faces: false,
  seams: false,
  grid: true,
  clear: false,
  shadow: false,
  shaped: false,
};

/** More triangles than these are not drawn: the largest objects become boxes. */
const MOST_TRIANGLES = 3_000_000;
/** While a view that is slow to draw moves, objects with more triangles than these are boxes. */
const HEAVY = 5000;
/** Strength of the light that goes with the view. */
const HEADLIGHT = 2.2;
/** Pixels about the middle of a light within which it is picked. */
const NEAR = 12;

interface Drawn {
  group: Group;
  mesh: ModelMeshObject;
  box: Box3Helper;
  data: ModelMesh;
  triangles: number;
  /** Of its mesh. */
  key: string;
}

/** Without what makes it reactive: that cannot be sent to a worker. */
const plain = (source: ShotDocument): ShotDocument => JSON.parse(JSON.stringify(source));

export class ModelScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly eye: ModelEye;
  private readonly pacer: FramePacer;
  private readonly headlight = new DirectionalLight(0xffffff, HEADLIGHT);
  private readonly objects = new Map<string, Drawn>();
  private readonly meshes = new Map<string, Promise<{ data: ModelMesh; geometry: BufferGeometry }>>();
  private readonly helpers = new Group();
  private readonly marks = new Group();
  private readonly paths = new Group();
  private readonly shadows = new Group();
  /** Lights and cameras as they are drawn. */
  private placed: Helper[] = [];
  private document: ShotDocument | null = null;
  private selection: ContentRef[] = [];
  private options = MODEL_DEFAULTS;
  /** Of all objects, and metres from corner to corner. */
  private whole = new Box3();
  private size = 1;
  private framed = false;
  private drawnStep = 0;
  private asked = 0;
  private ended = false;

  /** @param onChange something that the view tells of has changed */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly onChange: () => void,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true });
    this.renderer.shadowMap.enabled = true;
    this.pacer = new FramePacer(this.renderer.getContext() as WebGL2RenderingContext, (lighter) =>
      this.render(lighter),
    );
    this.scene.background = new Color(0x2b2b2b);
    this.eye = new ModelEye(canvas, () => this.objects.values());
    const { camera, controls } = this.eye;
    this.scene.add(new AmbientLight(0xffffff, 0.9), camera, this.helpers, this.marks, this.paths, this.shadows);
    // it shines where the view looks, wherever in the world that is
    camera.add(this.headlight, this.headlight.target);
    this.headlight.position.set(0.3, 0.6, 1);
    controls.addEventListener('change', () => {
      if (this.shadows.children.length > 0) this.dressShadow();
      if (this.gridStep !== this.drawnStep) {
        this.dressHelpers();
        this.onChange();
      }
      this.pacer.draw();
    });
    controls.addEventListener('start', () => {
      this.pacer.moving = true;
      if (this.eye.through) this.leaveCamera();
    });
    controls.addEventListener('end', () => {
      this.pacer.moving = false;
      this.pacer.draw();
    });
  }

  end(): void {
    this.ended = true;
    this.pacer.end();
    this.eye.controls.dispose();
    this.renderer.dispose();
    for (const { mesh } of this.objects.values()) mesh.geometry.dispose();
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    this.eye.camera.aspect = width / height;
    if (this.through) this.lookThrough();
    this.eye.camera.updateProjectionMatrix();
    this.pacer.draw();
  }

  /** Shows a document; only what is new is loaded. */
  async show(document: ShotDocument): Promise<void> {
    const mine = ++this.asked;
    this.document = document;
    for (const [id, drawn] of this.objects) {
      if (!document.objects[id]) this.remove(id, drawn);
    }
    for (const [id, object] of Object.entries(document.objects)) {
      const source = this.options.shaped ? shapeSource(document, id) : null;
      const key = source ? shapeKey(source, id) : document.meshes[object.mesh].blob;
      const before = this.objects.get(id);
      if (before?.key !== key) {
        const { data, geometry } = await this.load(key, () => source ? meshTools().shape(plain(source), id) : meshTools().load(key)); // prettier-ignore
        if (mine !== this.asked || this.ended) return;
        // what stood there stays until the other has come
        if (before) this.remove(id, before);
        this.add(id, data, geometry, key);
      }
      const { group } = this.objects.get(id)!;
      group.matrix.copy(matrixOf(object.transform));
      group.updateMatrixWorld(true);
    }
    this.whole = this.boxOf([]);
    this.size = this.whole.getSize(new Vector3()).length() || 1;
    // a room is closed from outside: what the shot shows comes first
    if (!this.framed) this.lookThrough();
    this.framed = true;
    this.redress();
  }

  select(selection: ContentRef[]): void {
    this.selection = selection;
    this.redress();
  }
  /** @returns when what they ask for is drawn */
  async setOptions(options: ModelOptions): Promise<void> {
    const isOther = options.shaped !== this.options.shaped;
    this.options = options;
    if (isOther && this.document) await this.show(this.document);
    else this.redress();
  }

  /** The view is that of the shot's camera. */
  get through(): boolean {
    return this.eye.through;
  }
  /** Number of objects that stand as boxes. */
  get boxed(): number {
    return [...this.objects.values()].filter(({ mesh }) => !mesh.visible).length;
  }
  get triangles(): number {
    return [...this.objects.values()].reduce((sum, { triangles }) => sum + triangles, 0);
  }
  /** Size of selected objects, metres: of one along its own axes, of several along those of the world; null without any. */
  sizeOf(refs: ContentRef[]): [number, number, number] | null {
    const one = refs.length === 1 && refs[0].kind === 'object' ? this.objects.get(refs[0].id) : null;
    if (one) {
      const scale = new Vector3().setFromMatrixScale(one.group.matrix).toArray();
      return scale.map((s, k) => s * (one.data.box[3 + k] - one.data.box[k])) as [number, number, number];
    }
    const solid = refs.filter(({ kind }) => kind === 'object' || kind === 'surface');
    const box = this.boxOf(solid);
    return solid.length === 0 || box.isEmpty() ? null : (box.getSize(new Vector3()).toArray() as [number, number, number]); // prettier-ignore
  }
  /** Metres between the lines of the ground grid: the nearer what is looked at, the finer. */
  get gridStep(): number {
    return 10 ** Math.floor(Math.log10(Math.min(this.size, 2 * this.eye.away()) / 5));
  }

  /** Turns the view to what is selected; to everything where nothing is. */
  fit(refs: ContentRef[]): void {
    if (this.through) {
      this.leaveCamera();
      this.dressHelpers(); // the camera itself is drawn from now on
    }
    const box = this.boxOf(refs);
    if (box.isEmpty()) return;
    this.eye.fit(box, this.size);
    this.pacer.draw();
  }

  /** Looks as the shot's camera does; its whole frame is seen. */
  lookThrough(): void {
    if (!this.document) return;
    const { camera, cameras, final } = this.document;
    this.eye.lookThrough(cameras[camera], final.width / final.height);
    this.dressShadow();
    this.onChange();
    this.pacer.draw();
  }
  private leaveCamera(): void {
    if (!this.through) return;
    this.eye.leave(this.size);
    this.onChange();
  }

  /** The light or object at a point of the canvas, in its pixels. */
  pick(x: number, y: number, width: number, height: number): ContentRef | null {
    if (!this.document) return null;
    for (const [id, light] of Object.entries(this.document.lights)) {
      const place = new Vector3().setFromMatrixPosition(matrixOf(light.transform)).project(this.eye.camera);
      if (place.z > 1) continue;
      const [px, py] = [((place.x + 1) / 2) * width, ((1 - place.y) / 2) * height];
      if (Math.hypot(px - x, py - y) < NEAR) return { kind: 'light', id };
    }
    return this.pickObject(x, y, width, height);
  }

  private pickObject(x: number, y: number, width: number, height: number): ContentRef | null {
    const drawn = [...this.objects];
    const hidden = [this.helpers, this.marks, this.paths];
    for (const group of hidden) group.visible = false;
    const index = pickByColor(this.renderer, this.scene, this.eye.camera, drawn.map(([, d]) => d.mesh), x, y, width, height); // prettier-ignore
    for (const group of hidden) group.visible = true;
    return index === null ? null : { kind: 'object', id: drawn[index][0] };
  }

  private load(key: string, read: () => Promise<ModelMesh>) {
    let loading = this.meshes.get(key);
    if (!loading) {
      loading = read().then((data) => {
        const geometry = new BufferGeometry();
        geometry.setAttribute('position', new BufferAttribute(data.positions, 3));
        geometry.setIndex(new BufferAttribute(data.indices, 1));
        geometry.setAttribute('normal', new BufferAttribute(data.normals, 3));
        // one draw for the faces, one for their backs, one for the wires
        for (let i = 0; i < 3; i++) geometry.addGroup(0, data.indices.length, i);
        return { data, geometry };
      });
      this.meshes.set(key, loading);
    }
    return loading;
  }

  private remove(id: string, { group, key }: Drawn): void {
    this.scene.remove(group);
    this.objects.delete(id);
    if ([...this.objects.values()].some((other) => other.key === key)) return;
    void this.meshes.get(key)?.then(({ geometry }) => geometry.dispose());
    this.meshes.delete(key);
  }

  private add(id: string, data: ModelMesh, geometry: BufferGeometry, key: string): void {
    const group = new Group();
    group.matrixAutoUpdate = false;
    const mesh = new Mesh<BufferGeometry, Material | Material[]>(geometry, FACES.plain);
    const [a, b, c, d, e, f] = data.box;
    const box = new Box3Helper(new Box3(new Vector3(a, b, c), new Vector3(d, e, f)), LINE_COLORS.plain);
    group.add(mesh, box);
    this.scene.add(group);
    this.objects.set(id, { group, mesh, box, data, triangles: data.indices.length / 3, key });
  }

  /** Gives everything the look that options and selection ask for. */
  private redress(): void {
    const { document, options } = this;
    if (!document) return;
    const chosen = new Set(this.selection.filter((r) => r.kind === 'object').map((r) => r.id));
    const surfaces = new Set(this.selection.filter((r) => r.kind === 'surface').map((r) => r.id));
    disposeAll(this.marks);
    let left = MOST_TRIANGLES;
    const bySize = [...this.objects].sort(([, one], [, two]) => one.triangles - two.triangles);
    for (const [id, drawn] of bySize) {
      const { mesh, box, data, group } = drawn;
      const object = document.objects[id];
      const isChosen = chosen.has(id) || surfaces.has(object.surface);
      const clear = options.clear || document.surfaces[object.surface].transmission_weight > 0.5;
      const look = object.facesTurned ? TURNED_FACES : FACES;
      const back = options.faces ? look.back : clear ? null : look.backQuiet;
      mesh.material = [isChosen ? look.chosen : clear ? look.clear : look.plain];
      if (back) mesh.material.push(back);
      if (options.wireframe) mesh.material.push(WIRE);
      left -= drawn.triangles;
      mesh.visible = left >= 0;
      [mesh.castShadow, mesh.receiveShadow] = [object.castsShadows && !clear, object.receivesShadows];
      box.visible = isChosen || left < 0;
      (box.material as LineBasicMaterial).color.set(isChosen ? ACCENT : LINE_COLORS.plain);
      if (options.seams && data.seams.length > 0) this.mark(data.seams, LINES.seams, group.matrix);
      if (options.faces && isChosen) this.mark(normalsOf(data), LINES.normals, group.matrix);
    }
    this.dressHelpers();
    this.dressShadow();
    this.pacer.draw();
    this.onChange();
  }
  /** Draws a light path from the camera on, rays, or marks, in front of everything. */
  showSketch({ path, places, rays }: Sketch): void {
    disposeAll(this.paths);
    if (path.length > 0) this.paths.add(lightPath([this.shotEye(), ...path]));
    for (const ray of rays) this.paths.add(shadowRay(ray));
    if (places) this.paths.add(markedPlaces(places));
    this.pacer.draw();
  }

  /** Where the shot's camera stands. */
  private shotEye(): number[] {
    const camera = this.document?.cameras[this.document.camera];
    return camera ? new Vector3().setFromMatrixPosition(matrixOf(camera.transform)).toArray() : [];
  }

  private mark(lines: Float32Array, material: LineBasicMaterial, matrix: Matrix4): void {
    const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(lines, 3));
    this.marks.add(linesAt(geometry, material, matrix));
  }

  /** Lights, the camera and the ground. */
  private dressHelpers(): void {
    if (!this.document) return;
    disposeAll(this.helpers);
    this.placed = helpersOf(this.document, this.selection, this.size, this.through);
    for (const { lines } of this.placed) this.helpers.add(lines);
    this.drawnStep = this.gridStep;
    if (this.options.grid) this.helpers.add(groundGrid(this.drawnStep, this.whole, this.eye.lookedAt()));
  }

  /** The light that is selected, if it is one alone. */
  private chosenLight(): Light | null {
    const [first, second] = this.selection;
    return first?.kind === 'light' && !second ? (this.document?.lights[first.id] ?? null) : null;
  }

  /** The shadow of the selected light about what the view looks at; the view's own light steps back meanwhile. */
  private dressShadow(): void {
    for (const child of [...this.shadows.children]) {
      child.traverse((part) => (part as DirectionalLight).shadow?.dispose());
      this.shadows.remove(child);
    }
    const light = this.options.shadow ? this.chosenLight() : null;
    this.headlight.intensity = light ? HEADLIGHT / 6 : HEADLIGHT;
    if (!light) return;
    this.shadows.add(
      lightShadow(light, { middle: this.eye.lookedAt(), reach: Math.min(this.size, this.eye.away()) }, this.size),
    );
  }

  /** The transform of a light after a drag over the canvas. @param light as it was before */
  drag(light: Pick<Light, 'kind' | 'transform'>, way: PointerWay, upright: boolean): number[] {
    return draggedLight(light, way, this.eye.camera, upright);
  }
  /** While a light is dragged the view keeps still. */
  hold(still: boolean): void {
    this.eye.controls.enabled = !still;
  }

  private boxOf(refs: ContentRef[]): Box3 {
    const box = new Box3();
    const { document } = this;
    if (!document) return box;
    const wanted = (id: string) =>
      refs.length === 0 ||
      refs.some((r) => (r.kind === 'object' && r.id === id) || (r.kind === 'surface' && document.objects[id]?.surface === r.id)); // prettier-ignore
    for (const [id, { group, data }] of this.objects) {
      if (!wanted(id)) continue;
      const [a, b, c, d, e, f] = data.box;
      box.union(new Box3(new Vector3(a, b, c), new Vector3(d, e, f)).applyMatrix4(group.matrix));
    }
    for (const ref of refs) {
      const drawn = this.placed.find(({ of }) => sameContent(of, ref));
      if (drawn) box.union(new Box3().setFromBufferAttribute(drawn.lines.geometry.getAttribute('position') as BufferAttribute).applyMatrix4(drawn.lines.matrix)); // prettier-ignore
    }
    return box;
  }

  /** @param lighter what has many triangles stands as its box */
  private render(lighter: boolean): void {
    const heavy = lighter ? [...this.objects.values()].filter((d) => d.mesh.visible && d.triangles > HEAVY) : [];
    const boxes = heavy.map(({ box }) => box.visible);
    for (const { mesh, box } of heavy) {
      mesh.visible = false;
      box.visible = true;
    }
    this.renderer.render(this.scene, this.eye.camera);
    heavy.forEach(({ mesh, box }, i) => {
      mesh.visible = true;
      box.visible = boxes[i];
    });
  }
}
