import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'

export default defineConfigWithVueTs(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  vue.configs['flat/recommended'],
  vueTsConfigs.strict,
  prettier,
  { rules: { 'vue/multi-word-component-names': 'off', '@typescript-eslint/no-explicit-any': 'error' } },
  // Flat arrays of numbers are read by place all over the viewport; unchecked access is an error of the compiler already.
  { rules: { '@typescript-eslint/no-non-null-assertion': 'off' } },
)
