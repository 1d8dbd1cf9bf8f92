import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'

/** From the ground up; a folder imports from those before it. `viewport` and `workspace` stand beside each other: what one does is
 *  known to the other by the stores only. */
const LAYERS = [['icons'], ['api'], ['stores'], ['viewport', 'workspace'], ['views']]

const layers = LAYERS.flatMap((folders, i) =>
  folders.map((folder) => {
    const beyond = [...LAYERS.slice(i + 1).flat(), ...folders.filter((f) => f !== folder)]
    return {
      files: [`src/${folder}/**`],
      rules: {
        'no-restricted-imports': [
          'error',
          {
            patterns: beyond.map((to) => ({
              group: [`**/${to}/**`],
              message: `${folder} stands below or beside ${to}.`,
            })),
          },
        ],
      },
    }
  }),
).filter((layer) => layer.rules['no-restricted-imports'][1].patterns.length > 0)

export default defineConfigWithVueTs(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  vue.configs['flat/recommended'],
  vueTsConfigs.strict,
  prettier,
  { rules: { 'vue/multi-word-component-names': 'off', '@typescript-eslint/no-explicit-any': 'error' } },
  // Flat arrays of numbers are read by place all over the viewport; unchecked access is an error of the compiler already.
  { rules: { '@typescript-eslint/no-non-null-assertion': 'off' } },
  ...layers,
)
