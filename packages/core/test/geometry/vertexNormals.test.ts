// Against three's computeVertexNormals, which weighs by area as well.
import { expect } from 'chai';
import { BufferAttribute, BufferGeometry, TorusKnotGeometry } from 'three';
import { vertexNormals } from '@dusting/core/geometry';

describe('normals of vertices', () => {
  it('are those of another implementation', () => {
    const knot = new TorusKnotGeometry(1, 0.4, 64, 8);
    const positions = knot.getAttribute('position').array as Float32Array;
    const indices = Uint32Array.from(knot.getIndex()!.array);
    const theirs = new BufferGeometry().setAttribute('position', new BufferAttribute(positions, 3));
    theirs.setIndex(new BufferAttribute(indices, 1));
    theirs.computeVertexNormals();
    const normals = theirs.getAttribute('normal').array;
    vertexNormals({ positions, indices }).forEach((v, i) => expect(v).to.be.closeTo(normals[i], 1e-5));
  });
  it('a vertex without a face has none', () => {
    expect([...vertexNormals({ positions: new Float32Array(3), indices: new Uint32Array(0) })]).to.deep.equal([
      0, 0, 0,
    ]);
  });
});
