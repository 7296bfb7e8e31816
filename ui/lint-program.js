// One reading of all sources for the lint rules that ask for types.
//
// The parser's own project service reads the project anew, with all of its types, for each component that it opens,
// since what stands in a .vue file is no TypeScript before its script is cut out. Here the scripts are cut out first,
// and every file is looked at in the same program.
import { parse } from 'vue/compiler-sfc'
import ts from 'typescript'
import tseslint from 'typescript-eslint'

const config = ts.parseJsonConfigFileContent(
  ts.readConfigFile(`${import.meta.dirname}/tsconfig.app.json`, ts.sys.readFile).config,
  ts.sys,
  import.meta.dirname,
  undefined,
  undefined,
  undefined,
  [{ extension: '.vue', isMixedContent: true, scriptKind: ts.ScriptKind.Deferred }],
)
const files = [...config.fileNames, `${import.meta.dirname}/vite.config.ts`]
const options = { ...config.options, allowNonTsExtensions: true }

function script(text) {
  const { script, scriptSetup } = parse(text).descriptor
  return (scriptSetup ?? script)?.content ?? ''
}

/** The program of all sources; in one that is made from another, a script may read otherwise. */
function programOf(otherwise = {}, old = undefined) {
  const host = ts.createCompilerHost(options, true)
  const read = host.getSourceFile.bind(host)
  host.getSourceFile = (name, version, ...more) => {
    if (!(name in otherwise)) {
      if (old) return old.getSourceFile(name)
      if (!name.endsWith('.vue')) return read(name, version, ...more)
    }
    return ts.createSourceFile(name, otherwise[name] ?? script(ts.sys.readFile(name)), version, true, ts.ScriptKind.TS)
  }
  return ts.createProgram(files, options, host, old)
}

const whole = programOf()

/** Parses as the project service would; what stands in a component's template is parsed without types. */
export const parser = {
  ...tseslint.parser,
  parseForESLint(code, given) {
    const { projectService, filePath: name } = given
    if (!projectService) return tseslint.parser.parseForESLint(code, given)
    // The script of a generic component comes with its types declared above it.
    const program = whole.getSourceFile(name)?.text === code ? whole : programOf({ [name]: code }, whole)
    return tseslint.parser.parseForESLint(code, { ...given, projectService: undefined, programs: [program] })
  },
}
