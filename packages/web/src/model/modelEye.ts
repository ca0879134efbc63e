// From where the model is looked at: through the shot's camera, or from a place that turns about another.
import { PerspectiveCamera, Vector3, type Box3, type Matrix4 } from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { Camera } from '@dusting/core/scene';
import { matrixOf } from './modelParts.ts';

/** Share of the half view that counts as its middle. */
const MIDDLE = 0.7;
/** What the camera's near plane is brought up to: a share of how far away things are. */
const DEPTHS = 1000;
/** What is looked at through the camera is the nearer of what is seen: this quantile of its distances. */
const NEARBY = 0.2;
const ANGLE = 40;

/** Something that may be looked at: its box in a space of its own. // 0..2 min, 3..5 max */
export interface Seen {
  data: { box: ArrayLike<number> };
  group: { matrix: Matrix4 };
}

export class ModelEye {
  readonly camera = new PerspectiveCamera(ANGLE, 1, 0.001, 1000);
  readonly controls: OrbitControls;
  /** The view is that of the shot's camera. */
  through = false;

  /** @param seen what stands in the model */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly seen: () => Iterable<Seen>,
  ) {
    this.camera.position.set(1, 1, 2);
    this.controls = new OrbitControls(this.camera, canvas);
  }

  /** Looks as the shot's camera does; its whole frame is seen. @param frame its width over its height */
  lookThrough({ far, near, transform, verticalAngle }: Camera, frame: number): void {
    const { camera, controls } = this;
    this.through = true;
    const placed = matrixOf(transform);
    camera.position.setFromMatrixPosition(placed);
    camera.quaternion.setFromRotationMatrix(placed);
    const half = Math.tan((verticalAngle * Math.PI) / 360) * Math.max(1, frame / camera.aspect);
    camera.fov = (Math.atan(half) * 360) / Math.PI;
    camera.near = Math.max(near, 1e-3);
    camera.far = far > 0 ? far : 1e5;
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld();
    const depth = this.depthAhead();
    // depth has 24 bits, most of which lie close to the near plane
    camera.near = Math.max(camera.near, (depth ?? 0) / DEPTHS);
    camera.updateProjectionMatrix();
    controls.target.copy(camera.position).addScaledVector(this.ahead(), depth ?? 1);
  }

  /** Stays where it is, free to turn. @param size metres from corner to corner of the scene */
  leave(size: number): void {
    const { camera, controls } = this;
    this.through = false;
    camera.fov = ANGLE;
    camera.near = size / 1000;
    camera.far = size * 20;
    camera.up.set(0, 1, 0);
    controls.target.copy(camera.position).addScaledVector(this.ahead(), this.depthAhead() ?? size / 4);
    camera.updateProjectionMatrix();
  }

  /** Turns to a box, which fills the view. @param whole metres from corner to corner of the scene */
  fit(box: Box3, whole: number): void {
    const { camera, controls } = this;
    const middle = box.getCenter(new Vector3());
    // a light without a size is not looked at from no distance
    const size = Math.max(box.getSize(new Vector3()).length(), whole / 100, 1e-6);
    const away = camera.position.clone().sub(controls.target).normalize();
    controls.target.copy(middle);
    camera.position.copy(middle).addScaledVector(away, size * 1.4);
    camera.near = size / 1000;
    camera.far = Math.max(size * 100, whole * 20);
    camera.updateProjectionMatrix();
    controls.update();
  }

  /** How far away what is looked at stands, metres: through the camera the ground before it, not what stands at the horizon. */
  away(): number {
    const nearby = this.through ? this.depthAhead(NEARBY) : null;
    return nearby ?? this.camera.position.distanceTo(this.controls.target);
  }
  lookedAt(): Vector3 {
    return this.camera.position.clone().addScaledVector(this.ahead(), this.away());
  }

  private ahead(): Vector3 {
    return new Vector3(0, 0, -1).applyQuaternion(this.camera.quaternion);
  }

  /** How far away what stands in the middle of the view is: a quantile of it; null where nothing does. */
  private depthAhead(share = 0.5): number | null {
    const { camera } = this;
    const depths = [...this.seen()].flatMap(({ data, group }) => {
      const [a, b, c, d, e, f] = Array.from(data.box);
      const middle = new Vector3((a + d) / 2, (b + e) / 2, (c + f) / 2).applyMatrix4(group.matrix);
      const depth = middle.distanceTo(camera.position);
      const { x, y, z } = middle.project(camera);
      return z < 1 && Math.abs(x) < MIDDLE && Math.abs(y) < MIDDLE ? [depth] : [];
    });
    return depths.length > 0 ? depths.sort((a, b) => a - b)[Math.floor(share * depths.length)] : null;
  }
}
