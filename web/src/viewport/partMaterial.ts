import * as THREE from 'three';
import { BEYOND_LIMIT, CLASS_COLOURS, HEAT_RAMP } from '../theme/colours.ts';

/** What a part's material shows beside its colour: light bands that run over it as the view turns. */
export interface Effects {
  bands: boolean;
  /** The side of the squares of a checker over its UVs, which are then an attribute `squareAt`; null for none. */
  checker: number | null;
}

/** How many bands of light there are round all of what can be mirrored. */
const BANDS = 16;

/**
 * The material of a part: its back sides are hatched with chevrons, so that they can be told apart in black and white,
 * too; on wish it mirrors bands of light, in which dents show as kinks.
 */
export function partMaterial(effects: Effects): THREE.MeshStandardMaterial {
  const m = new THREE.MeshStandardMaterial({
    side: THREE.DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  });
  m.onBeforeCompile = (shader) => {
    if (effects.checker) {
      const declared = 'varying vec2 squareHere;\n';
      shader.vertexShader = `attribute vec2 squareAt;\n${declared}${shader.vertexShader.replace('#include <begin_vertex>', '#include <begin_vertex>\nsquareHere = squareAt;')}`;
      // A notch in the lower left of each light square tells which way it lies, and whether it is mirrored.
      shader.fragmentShader = `${declared}${shader.fragmentShader.replace(
        '#include <color_fragment>',
        `#include <color_fragment>
        vec2 square = squareHere / ${effects.checker.toPrecision(8)};
        vec2 inside = fract(square);
        float dark = mod(floor(square.x) + floor(square.y), 2.0);
        float notch = step(inside.x + 2.0 * inside.y, 0.7) * (1.0 - dark);
        diffuseColor.rgb *= mix(mix(1.0, 0.42, dark), 0.16, notch);`,
      )}`;
    }
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <opaque_fragment>',
      `#include <opaque_fragment>
      ${
        effects.bands
          ? `
      vec3 mirrored = reflect(-normalize(vViewPosition), normalize(normal));
      float along = asin(clamp(mirrored.y, -1.0, 1.0)) * ${(BANDS / Math.PI).toFixed(4)};
      float band = abs(fract(along) - 0.5) * 2.0;
      float wide = fwidth(along) * 2.0;
      gl_FragColor.rgb = mix(vec3(0.11, 0.08, 0.15), vec3(0.93, 0.9, 0.84), smoothstep(0.5 - wide, 0.5 + wide, band));`
          : ''
      }
      if (!gl_FrontFacing) {
        float zig = abs(mod(gl_FragCoord.x, 14.0) - 7.0);
        float stroke = mod(gl_FragCoord.y + zig, 9.0);
        gl_FragColor.rgb = mix(gl_FragColor.rgb * 0.55, vec3(0.1, 0.07, 0.13), step(stroke, 2.4));
      }`,
    );
  };
  m.customProgramCacheKey = () => `part ${effects.bands} ${effects.checker}`;
  return m;
}

const RAMP = HEAT_RAMP.map((c) => new THREE.Color(c));
const CLASSES = CLASS_COLOURS.map((c) => new THREE.Color(c));
const BEYOND = new THREE.Color(BEYOND_LIMIT);

/** The colour of what is beyond a limit, into three numbers of an array. */
export const markBeyond = (out: Float32Array, at: number): unknown => BEYOND.toArray(out, at);

/** The colour of a class into three numbers of an array. */
export const classColour = (c: number, out: Float32Array, at: number): unknown =>
  CLASSES[c % CLASSES.length]!.toArray(out, at);

/** The colour of a share of a heat, 0 … 1, into three numbers of an array. */
export function heatColour(share: number, out: Float32Array, at: number): void {
  const x = Math.max(0, Math.min(0.999999, share)) * (RAMP.length - 1);
  const i = Math.floor(x);
  const [a, b] = [RAMP[i]!, RAMP[i + 1]!];
  const k = x - i;
  out[at] = a.r + (b.r - a.r) * k;
  out[at + 1] = a.g + (b.g - a.g) * k;
  out[at + 2] = a.b + (b.b - a.b) * k;
}
