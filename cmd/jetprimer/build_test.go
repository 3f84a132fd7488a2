package main

import (
	"os"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// unwanted are packages that take long to compile or weigh much, each with what brought
// it here once.
var unwanted = map[string]string{
	"github.com/ugorji/go/codec":         "gin's message-pack binding, without the tag nomsgpack",
	"github.com/ncruces/go-sqlite3":      "a data export as one database file",
	"modernc.org/sqlite":                 "a data export as one database file",
	"github.com/bytedance/sonic":         "gin's JSON, by its tag",
	"github.com/chromedp/chromedp":       "browser tests",
	"github.com/stretchr/testify/assert": "tests",
}

// TestTheProgramLeavesOut holds the built program to the packages that it may not
// contain. The Makefile builds with the same tags.
func TestTheProgramLeavesOut(t *testing.T) {
	makefile, err := os.ReadFile("../../Makefile")
	require.NoError(t, err)
	assert.Contains(t, string(makefile), "export GOFLAGS := -trimpath -tags=nomsgpack\n")
	list, err := exec.Command("go", "list", "-tags=nomsgpack", "-deps", ".").Output()
	require.NoError(t, err)
	for _, path := range strings.Fields(string(list)) {
		for barred, why := range unwanted {
			assert.False(t, path == barred || strings.HasPrefix(path, barred+"/"), "%s is compiled in: %s", path, why)
		}
	}
}
