import { dts } from 'rollup-plugin-dts';

// The types of each module in one file that needs nothing else.
export default ['play', 'document', 'check'].map((name) => ({
  input: `src/${name}.ts`,
  output: { file: `dist/${name}.d.ts`, format: 'es' },
  plugins: [dts({ tsconfig: 'tsconfig.build.json', includeExternal: ['@crow-lane/core'] })]
}));
