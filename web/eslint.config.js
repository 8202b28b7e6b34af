import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  ...tseslint.configs.recommended,
  { plugins: { 'react-hooks': reactHooks }, // there is no compiler here that a library could mislead
    rules: { ...reactHooks.configs.recommended.rules, 'react-hooks/incompatible-library': 'off' } },
)
