// What the shots of the demo share in making a glTF file.
import { Document, WebIO, type Material, type Mesh, type Node, type Texture } from '@gltf-transform/core';
import { KHRLightsPunctual, KHRMaterialsEmissiveStrength, KHRMaterialsIOR, KHRMaterialsTransmission, KHRMaterialsVolume, Light } from '@gltf-transform/extensions'; // prettier-ignore
import type { Shape } from './shapes.ts';

type Color = [number, number, number];

export class GltfScene {
  private readonly document = new Document();
  private readonly buffer = this.document.createBuffer();
  private readonly scene;
  private readonly transmission = this.document.createExtension(KHRMaterialsTransmission);
  private readonly ior = this.document.createExtension(KHRMaterialsIOR);
  private readonly volume = this.document.createExtension(KHRMaterialsVolume);
  private readonly strength = this.document.createExtension(KHRMaterialsEmissiveStrength);
  private readonly punctual = this.document.createExtension(KHRLightsPunctual);

  constructor(name: string) {
    this.scene = this.document.createScene(name);
  }

  matt(name: string, color: Color, roughness = 0.9): Material {
    return this.document
      .createMaterial(name)
      .setBaseColorFactor([...color, 1])
      .setMetallicFactor(0)
      .setRoughnessFactor(roughness);
  }

  metal(name: string, color: Color, roughness: number): Material {
    return this.matt(name, color, roughness).setMetallicFactor(1);
  }

  textured(name: string, picture: string, png: Uint8Array, roughness = 0.9): Material {
    return this.matt(name, [1, 1, 1], roughness).setBaseColorTexture(this.picture(picture, png));
  }

  picture(name: string, png: Uint8Array): Texture {
    return this.document
      .createTexture(name)
      .setImage(png as Uint8Array<ArrayBuffer>)
      .setMimeType('image/png');
  }

  /** @param color what is left of white light after `distance` metres */
  clear(name: string, index: number, roughness: number, color: Color, distance: number): Material {
    const inside = this.volume
      .createVolume()
      .setThicknessFactor(0.01)
      .setAttenuationColor(color)
      .setAttenuationDistance(distance);
    return this.matt(name, [1, 1, 1], roughness)
      .setExtension('KHR_materials_transmission', this.transmission.createTransmission().setTransmissionFactor(1))
      .setExtension('KHR_materials_ior', this.ior.createIOR().setIOR(index))
      .setExtension('KHR_materials_volume', inside);
  }

  glow(name: string, color: Color, strength: number): Material {
    return this.matt(name, [0.02, 0.02, 0.02])
      .setEmissiveFactor(color)
      .setExtension('KHR_materials_emissive_strength', this.strength.createEmissiveStrength().setEmissiveStrength(strength)); // prettier-ignore
  }

  mesh(name: string, shape: Shape, material: Material): Mesh {
    const accessor = (type: 'VEC2' | 'VEC3', values: number[]) =>
      this.document.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(this.buffer);
    const indices = new Uint32Array(shape.indices);
    const primitive = this.document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', shape.positions))
      .setAttribute('NORMAL', accessor('VEC3', shape.normals))
      .setAttribute('TEXCOORD_0', accessor('VEC2', shape.uvs))
      .setIndices(this.document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(this.buffer))
      .setMaterial(material);
    return this.document.createMesh(name).addPrimitive(primitive);
  }

  /** @param turn about the vertical axis, radians */
  place(name: string, what: Mesh, x = 0, y = 0, z = 0, turn = 0): Node {
    const node = this.document.createNode(name).setMesh(what).setTranslation([x, y, z]);
    node.setRotation([0, Math.sin(turn / 2), 0, Math.cos(turn / 2)]);
    this.scene.addChild(node);
    return node;
  }

  /** @param pitch upwards, radians @param angle vertical angle of view, radians */
  camera(at: Color, pitch: number, angle: number, turn = 0): void {
    const camera = this.document.createCamera('shot camera').setType('perspective').setYFov(angle).setAspectRatio(16 / 9); // prettier-ignore
    camera.setZNear(0.05).setZFar(50);
    const [a, b] = [turn / 2, pitch / 2];
    this.scene.addChild(
      this.document
        .createNode('shot camera')
        .setCamera(camera)
        .setTranslation(at)
        .setRotation([Math.cos(a) * Math.sin(b), Math.sin(a) * Math.cos(b), -Math.sin(a) * Math.sin(b), Math.cos(a) * Math.cos(b)]), // prettier-ignore
    );
  }

  point(name: string, color: Color, intensity: number, at: Color): void {
    const light = this.punctual.createLight(name).setType(Light.Type.POINT).setIntensity(intensity).setColor(color);
    this.scene.addChild(this.document.createNode(name).setExtension('KHR_lights_punctual', light).setTranslation(at));
  }

  /** As a binary glTF file. */
  async bytes(): Promise<Uint8Array> {
    const io = new WebIO().registerExtensions([
      KHRMaterialsTransmission,
      KHRMaterialsIOR,
      KHRMaterialsVolume,
      KHRMaterialsEmissiveStrength,
      KHRLightsPunctual,
    ]);
    return io.writeBinary(this.document);
  }
}
