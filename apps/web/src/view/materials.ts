import * as THREE from 'three';

/** Pushes faces back a hair, so that the lines on their edges are whole. */
const BEHIND_LINES = { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 2 };

/** Clay in soft light. */
export function clay(colour: THREE.ColorRepresentation): THREE.MeshLambertMaterial {
  return new THREE.MeshLambertMaterial({ color: colour, ...BEHIND_LINES });
}

/**
 * A cap: paper hatched in the seams' red, as a cut is drawn on a plan. The lines keep their width on the screen.
 */
export function hatched(): THREE.MeshLambertMaterial {
  const material = new THREE.MeshLambertMaterial({ color: '#fbeee2', ...BEHIND_LINES });
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <dithering_fragment>',
      `#include <dithering_fragment>
       float across = mod((gl_FragCoord.x + gl_FragCoord.y) / 7.0, 1.0);
       float ink = smoothstep(0.70, 0.78, across) * (1.0 - smoothstep(0.92, 1.0, across));
       gl_FragColor.rgb = mix(gl_FragColor.rgb, vec3(0.68, 0.14, 0.06), ink * 0.8);`,
    );
  };
  return material;
}

/** Faces that are to be seen: stamped with verdigris dots, which keep their size on the screen. */
export function stamped(): THREE.MeshBasicMaterial {
  const material = new THREE.MeshBasicMaterial({
    color: '#2c7a66',
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -2,
  });
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <color_fragment>',
      `#include <color_fragment>
       vec2 row = vec2(0.0, mod(floor(gl_FragCoord.x / 6.0), 2.0) * 3.0);
       vec2 cell = mod(gl_FragCoord.xy + row, 6.0) - 3.0;
       if (dot(cell, cell) > 2.6) discard;`,
    );
  };
  material.customProgramCacheKey = () => 'stamped';
  return material;
}

/** Clay that shows where a plane would cut it: both sides in tones of their own, a red line between them. */
export function parted(): { material: THREE.MeshLambertMaterial; plane: { value: THREE.Vector4 } } {
  const plane = { value: new THREE.Vector4(0, 0, 1, 0) };
  const material = new THREE.MeshLambertMaterial({ color: '#ffffff', side: THREE.DoubleSide });
  material.onBeforeCompile = (shader) => {
    shader.uniforms.seamPlane = plane;
    shader.vertexShader = shader.vertexShader
      .replace('#include <common>', '#include <common>\nvarying vec3 seamPosition;')
      .replace(
        '#include <begin_vertex>',
        '#include <begin_vertex>\nseamPosition = (modelMatrix * vec4(position, 1.0)).xyz;',
      );
    shader.fragmentShader = shader.fragmentShader
      .replace('#include <common>', '#include <common>\nvarying vec3 seamPosition;\nuniform vec4 seamPlane;')
      .replace(
        '#include <color_fragment>',
        `#include <color_fragment>
         float side = dot(seamPosition, seamPlane.xyz) - seamPlane.w;
         diffuseColor.rgb = side > 0.0 ? vec3(0.42, 0.52, 0.58) : vec3(0.68, 0.55, 0.38);
         float width = fwidth(side) * 1.6;
         diffuseColor.rgb = mix(vec3(0.62, 0.08, 0.03), diffuseColor.rgb, smoothstep(width * 0.6, width, abs(side)));`,
      );
  };
  return { material, plane };
}

/** Lines and sheets. Made once: a material that comes and goes would have its shader compiled anew each time. */
export const inks = () => ({
  ink: new THREE.LineBasicMaterial({ color: '#1e2a32' }),
  inkInFront: new THREE.LineBasicMaterial({ color: '#1e2a32', depthTest: false, transparent: true }),
  cut: new THREE.LineBasicMaterial({ color: '#bf3b26' }),
  cutInFront: new THREE.LineBasicMaterial({ color: '#bf3b26', depthTest: false, transparent: true }),
  ground: new THREE.LineBasicMaterial({ color: '#b9ad96' }),
  staff: new THREE.LineBasicMaterial({ color: '#8a8271' }),
  dashed: new THREE.LineDashedMaterial({ color: '#3c4a52' }),
  fill: new THREE.MeshBasicMaterial({ color: '#e9c9b2', side: THREE.DoubleSide }),
  bed: new THREE.MeshBasicMaterial({ color: '#fbf6ea', side: THREE.DoubleSide, ...BEHIND_LINES }),
  bedRule: new THREE.LineBasicMaterial({ color: '#e3d9c4' }),
  column: new THREE.LineBasicMaterial({ color: '#a1937a', transparent: true, opacity: 0.55 }),
  show: stamped(),
  sheet: new THREE.MeshBasicMaterial({
    color: '#bf3b26',
    transparent: true,
    opacity: 0.16,
    side: THREE.DoubleSide,
    depthWrite: false,
  }),
});

export type Inks = ReturnType<typeof inks>;

/**
 * A speck in each of the materials. Drawn once while there is nothing else to draw: a shader that is first met when the
 * graphics card is busy holds up the page until it is done.
 */
export function specks(materials: readonly THREE.Material[]): THREE.Group {
  // a shader with normals is another than one without: only what is lit has them
  const flat = new THREE.BufferGeometry();
  flat.setAttribute('position', new THREE.BufferAttribute(new Float32Array(9), 3));
  flat.setAttribute('lineDistance', new THREE.BufferAttribute(new Float32Array(3), 1));
  const lit = flat.clone();
  lit.setAttribute('normal', new THREE.BufferAttribute(new Float32Array(9), 3));
  const group = new THREE.Group();
  for (const material of materials) {
    const geometry = material instanceof THREE.MeshLambertMaterial ? lit : flat;
    const line = material instanceof THREE.LineBasicMaterial;
    const speck = line ? new THREE.LineSegments(geometry, material) : new THREE.Mesh(geometry, material);
    speck.frustumCulled = false;
    group.add(speck);
  }
  return group;
}
