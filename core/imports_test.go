// Package core_test holds the rule that keeps the rules of the job apart from
// everything else.
package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// layers are the packages from the bottom up: each may import the ones before
// it, never the ones after.
var layers = []string{
	"jetprimer/core", "jetprimer/exchange", "jetprimer/guide", "jetprimer/mail", "jetprimer/learning",
	"jetprimer/catalog",
	"jetprimer/store",
	"jetprimer/reports", "jetprimer/dataexport", "jetprimer/demo", "jetprimer/server", "jetprimer/cmd",
}

func layer(path string) int {
	for i, prefix := range layers {
		if path == prefix || strings.HasPrefix(path, prefix+"/") {
			return i
		}
	}
	return -1
}

func TestImportsRunOneWay(t *testing.T) {
	seen := 0
	require.NoError(t, filepath.WalkDir("..", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git" || d.Name() == ".data") {
			return filepath.SkipDir
		}
		if !strings.HasSuffix(name, ".go") || strings.HasSuffix(name, "_test.go") {
			return nil
		}
		file, err := parser.ParseFile(token.NewFileSet(), name, nil, parser.ImportsOnly)
		require.NoError(t, err)
		own := "jetprimer/" + filepath.ToSlash(strings.TrimPrefix(filepath.Dir(name), ".."+string(filepath.Separator)))
		for _, spec := range file.Imports {
			path, err := strconv.Unquote(spec.Path.Value)
			require.NoError(t, err)
			if strings.HasPrefix(own, "jetprimer/core/") {
				seen++
				standard := !strings.Contains(strings.Split(path, "/")[0], ".") && !strings.HasPrefix(path, "jetprimer")
				assert.True(t,
					standard || strings.HasPrefix(path, "jetprimer/core/") ||
						strings.HasPrefix(path, "gonum.org/v1/gonum/"),
					"%s imports %s: core takes the standard library, gonum and itself only", name, path)
				for _, clocked := range []string{
					"net", "net/http", "os", "database/sql", "log", "log/slog", "math/rand", "math/rand/v2",
				} {
					assert.NotEqual(t, clocked, path, "%s: core knows no files, network, randomness or logging", name)
				}
			}
			if from, to := layer(own), layer(path); from >= 0 && to >= 0 {
				assert.LessOrEqual(t, to, from, "%s imports %s, which lies above it", name, path)
			}
		}
		return nil
	}))
	assert.Greater(t, seen, 10, "the walk found the packages of core")
}
