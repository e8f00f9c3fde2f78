import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import typescript from 'typescript-eslint'

export default typescript.config(
  { ignores: ['vendor/', 'node_modules/', 'var/', 'public/build/', 'web/api/schema.d.ts', 'test-results/'] },
  ...typescript.configs.strict,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: typescript.parser } } },
  { rules: { 'vue/multi-word-component-names': 'off', 'vue/require-default-prop': 'off', 'no-undef': 'off' } },
  // It comes when a field is seen, and takes the keys from whoever types elsewhere by then: web/lib/focus.ts.
  { rules: { 'vue/no-restricted-static-attribute': ['error', 'autofocus'] } },
  prettier,
)
