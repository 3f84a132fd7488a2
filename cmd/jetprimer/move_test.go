package main

import (
	"context"
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/store"
)

// TestASchoolMovesBetweenFolders: out of one by a key that is made and printed,
// while it is in use, into another with secrets of its own; what cannot be is
// said, and leaves no file.
func TestASchoolMovesBetweenFolders(t *testing.T) {
	ctx, dir := context.Background(), reachable(t)
	one, other, file := filepath.Join(dir, "one"), filepath.Join(dir, "other"), filepath.Join(dir, "school.zip")
	school := store.School{ID: "5c001000-0000-4000-8000-00000000000f", Name: "Kept", TimeZone: "UTC"}
	second := store.School{ID: "5c001000-0000-4000-8000-00000000001f", Name: "Beside", TimeZone: "UTC"}
	key := ""
	require.NoError(t, private(ctx, one, func(_ context.Context, s *store.Store, _ *catalog.Catalog) error {
		_, err := run("", "export-school", file, "--data", one)
		assert.ErrorContains(t, err, "there is no school yet")
		if err := s.AddSchool(ctx, school, nil); err != nil {
			return err
		}
		said, err := run("", "export-school", file, "--data", one)
		assert.Contains(t, said, "Kept is in "+file)
		found := regexp.MustCompile(`its key is (\S+)`).FindStringSubmatch(said)
		require.NotNil(t, found, said)
		key = found[1]
		require.NoError(t, s.AddSchool(ctx, second, nil))
		_, several := run("", "export-school", file+"2", "--data", one)
		assert.ErrorContains(t, several, second.ID+"  Beside")
		_, none := run("", "export-school", file+"2", "--data", one, "--school", "5c001000-0000-4000-8000-0000000000ff")
		assert.Error(t, none)
		return err
	}))
	_, err := run("", "import-school", file, "--data", other, "--move-key", key+"x")
	assert.ErrorContains(t, err, "the key is not the one of this file")
	said, err := run("", "import-school", file, "--data", other, "--move-key", key)
	require.NoError(t, err)
	assert.Contains(t, said, "Kept is here")
	_, err = run("", "import-school", file, "--data", other, "--move-key", key)
	assert.ErrorContains(t, err, "in this database already")
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Len(t, left, 3, "the folders and the one file")
}

// TestStatementsGoToAFileOrAStore: one of the two, of a student that there is.
func TestStatementsGoToAFileOrAStore(t *testing.T) {
	_, err := run("", "statements", "5c001000-0000-4000-8000-00000000000f")
	assert.ErrorContains(t, err, "either --file or --to must be given")
	ctx, dir := context.Background(), reachable(t)
	one := filepath.Join(dir, "one")
	require.NoError(t, private(ctx, one, func(_ context.Context, s *store.Store, _ *catalog.Catalog) error {
		require.NoError(t,
			s.AddSchool(ctx, store.School{ID: "5c001000-0000-4000-8000-00000000000f", Name: "Kept", TimeZone: "UTC"},
				nil))
		_, err := run("", "statements", "5c001000-0000-4000-8000-0000000000ff", "--data", one, "--file",
			filepath.Join(dir, "statements.json"))
		assert.ErrorIs(t, err, store.ErrNotFound)
		return nil
	}))
	assert.NoFileExists(t, filepath.Join(dir, "statements.json"))
}
