// Package test reads the code itself: what may know of what.
package test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/say"
)

// arrows are the packages of Lagoon that each may know of, itself aside; a name ending in / is a folder of them. Whatever is
// not named here may be known by nobody but the commands and the tests. They go one way.
var arrows = map[string][]string{
	"internal/core/fault": {}, "internal/core/day": {}, "internal/core/money": {},
	"internal/core/naming":  {"internal/core/fault"},
	"internal/core/limit":   {"internal/core/money"},
	"internal/core/ledger":  {"internal/core/money", "internal/core/day"},
	"internal/core/finding": {"internal/core/money", "internal/core/limit"},
	"internal/core/trade":   {"internal/core/money", "internal/core/limit", "internal/core/day", "internal/core/fault"},
	"internal/core/receive": {
		"internal/core/money",
		"internal/core/limit",
		"internal/core/finding",
		"internal/core/day",
		"internal/core/fault",
		"internal/core/trade",
	},
	"internal/core/trial":     {"internal/core/money", "internal/core/day", "internal/core/limit", "internal/core/finding"},
	"internal/core/match":     {"internal/core/money", "internal/core/limit", "internal/core/finding", "internal/core/day", "internal/core/trade"},
	"internal/core/selfbill":  {"internal/core/money", "internal/core/day", "internal/core/trade"},
	"internal/core/reconcile": {"internal/core/money", "internal/core/day", "internal/core/trade"},
	"internal/core/pay":       {"internal/core/money", "internal/core/day", "internal/core/trade"},
	"internal/core/posting":   {"internal/core/money", "internal/core/ledger", "internal/core/trade", "internal/core/match"},
	"internal/core/book":      {"internal/core/"},
	"internal/core/reading":   {"internal/core/money", "internal/core/day"},

	"internal/format/bounded":  {"internal/core/fault"},
	"internal/format/filekind": {},
	"internal/format/xmlfile":  {"internal/core/fault", "internal/format/bounded"},
	"internal/format/unpack":   {"internal/core/fault", "internal/format/bounded", "internal/format/filekind"},
	"internal/format/einvoice": {"internal/core/", "internal/format/bounded", "internal/format/filekind", "internal/format/xmlfile"},
	"internal/format/ubl":      {"internal/core/", "internal/format/xmlfile"},
	"internal/format/eml":      {"internal/core/fault", "internal/format/filekind"},
	"internal/format/":         {"internal/core/", "internal/format/bounded"},
	"internal/say":             {"internal/core/", "internal/format/pdf"},
	"internal/store":           {"internal/core/"},
	"internal/store/byhand":    {},
	"internal/outside/":        {"internal/core/", "internal/format/"},

	// One stage of the work knows of no other: what several need is core, store or act.
	"internal/act":          {"internal/core/", "internal/format/", "internal/say", "internal/store"},
	"internal/jobs/":        {"internal/core/", "internal/format/", "internal/say", "internal/store", "internal/act"},
	"internal/views":        {"internal/core/", "internal/format/", "internal/say", "internal/store", "internal/act"},
	"internal/lists":        {"internal/core/", "internal/format/", "internal/say", "internal/store", "internal/act"},
	"internal/prove":        {"internal/core/", "internal/format/", "internal/say", "internal/store", "internal/act"},
	"internal/tables":       {"internal/core/", "internal/format/", "internal/store", "internal/act", "internal/jobs/"},
	"internal/web/contract": {},
	"internal/web": {
		"internal/core/",
		"internal/format/",
		"internal/say",
		"internal/store",
		"internal/act",
		"internal/jobs/",
		"internal/views",
		"internal/prove",
		"internal/tables",
		"internal/lists",
		"internal/web/contract",
	},
	"internal/demo": {
		"internal/core/",
		"internal/format/",
		"internal/say",
		"internal/store",
		"internal/act",
		"internal/jobs/",
		"internal/views",
		"internal/lists",
		"internal/outside/",
	},
	"internal/house":     {"internal/core/fault", "internal/format/eml", "internal/say", "internal/store", "internal/act", "internal/jobs/", "internal/lists", "internal/outside/mailbox", "internal/web"},
	"internal/housetest": {"internal/"},
}

// outer are the packages that reach what is outside of a program: core has none of them.
var outer = []string{"os", "net", "net/http", "database/sql", "io/fs", "log", "log/slog", "os/exec", "syscall"}

// The arrows of the house go one way, and core has no I/O and no clock of its own.
func TestTheArrowsGoOneWay(t *testing.T) {
	seen := 0
	require.NoError(t, filepath.WalkDir("../internal", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		of := strings.TrimPrefix(filepath.ToSlash(filepath.Dir(path)), "../")
		may, named := arrows[of]
		if !named {
			may, named = arrows[of[:strings.LastIndex(of, "/")+1]]
		}
		require.True(t, named, "%s has a place in the house", of)
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		for _, spec := range file.Imports {
			name, err := strconv.Unquote(spec.Path.Value)
			require.NoError(t, err)
			own, is := strings.CutPrefix(name, "lagoon/")
			switch {
			case is:
				require.True(t, own == of || slices.ContainsFunc(may, func(m string) bool {
					return own == m || (strings.HasSuffix(m, "/") && strings.HasPrefix(own, m))
				}), "%s may not know of %s", path, own)
			case strings.HasPrefix(of, "internal/core/"):
				require.NotContains(t, outer, name, "%s: core has no I/O", path)
			}
			seen++
		}
		return nil
	}))
	require.Greater(t, seen, 300)
	for of, may := range arrows {
		for _, m := range may {
			if back, named := arrows[m]; named {
				require.NotContains(t, back, of, "%s and %s know of each other", of, m)
			}
		}
	}
}

// states are the constants that say where something stands, by name or type.
var states = regexp.MustCompile(`^(Run|Payment)[A-Z]|(State|Status)$`)

func typeName(e ast.Expr) string {
	if id, is := e.(*ast.Ident); is {
		return id.Name
	}
	return ""
}

// No state is shown as the code writes it: each has its words.
func TestEveryStateHasWords(t *testing.T) {
	seen := 0
	for _, path := range []string{"core/trade/invoice.go", "core/trade/order.go", "core/trade/supplier.go", "store/payments.go"} {
		file, err := parser.ParseFile(token.NewFileSet(), "../internal/"+path, nil, 0)
		require.NoError(t, err)
		ast.Inspect(file, func(n ast.Node) bool {
			spec, is := n.(*ast.ValueSpec)
			if !is || len(spec.Values) == 0 || !states.MatchString(spec.Names[0].Name+" "+typeName(spec.Type)) {
				return true
			}
			if text, is := spec.Values[0].(*ast.BasicLit); is && text.Kind == token.STRING {
				if state, err := strconv.Unquote(text.Value); err == nil && !strings.Contains(state, " ") {
					require.NotContains(t, say.State(state), "_", "%s: %s", path, state)
					seen++
				}
			}
			return true
		})
	}
	require.Greater(t, seen, 25)
}
