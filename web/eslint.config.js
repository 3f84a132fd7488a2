import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default [
  { ignores: ['src/schema/schema.gen.ts', 'src/rules/functions.gen.ts', 'src/rules/wasm_exec.js'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/essential'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    // An ordinary widget has one home, src/base; the rest of the house takes it from there
    // or from Element Plus.
    files: ['src/**/*.vue'],
    ignores: ['src/base/**'],
    rules: {
      'vue/no-restricted-html-elements': [
        'error',
        ...['button', 'input', 'select', 'textarea', 'dialog', 'progress'].map((element) => ({
          element,
          message: 'Take the part of src/base.',
        })),
      ],
    },
  },
]
