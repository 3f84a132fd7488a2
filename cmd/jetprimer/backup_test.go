package main

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"filippo.io/age"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/store"
)

// TestAFolderIsBackedUpWhileItIsInUse: and comes back in another one, whose
// secrets are those of the first.
func TestAFolderIsBackedUpWhileItIsInUse(t *testing.T) {
	ctx, dir := context.Background(), reachable(t)
	one, other, file, keys := filepath.Join(dir, "one"), filepath.Join(dir, "other"), filepath.Join(dir,
		"school.backup"), filepath.Join(dir, "key")
	key, err := age.GenerateX25519Identity()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(keys, []byte("# a key\n"+key.String()+"\n"), 0o600))
	school := store.School{ID: "5c001000-0000-4000-8000-00000000000f", Name: "Kept", TimeZone: "UTC"}
	require.NoError(t, private(ctx, one, func(_ context.Context, s *store.Store, _ *catalog.Catalog) error {
		if err := s.AddSchool(ctx, school, nil); err != nil {
			return err
		}
		said, err := run("", "backup", file, "--data", one, "--recipient", key.Recipient().String())
		assert.Contains(t, said, "school.backup, ")
		return err
	}))
	for want, args := range map[string][]string{
		"must be given":             {"backup", file + "2"},
		"no public key of age":      {"backup", file + "2", "--data", one, "--recipient", "age1nobody"},
		"give the file of its key":  {"restore", file, "--data", other},
		"holds no key of age":       {"restore", file, "--data", other, "--identity", file},
		"the database is not empty": {"restore", file, "--data", one, "--identity", keys},
	} {
		_, err := run("", args...)
		assert.ErrorContains(t, err, want)
	}
	secrets, err := os.ReadFile(filepath.Join(one, "secrets.json"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(other, "secrets.json"), secrets, 0o600))
	said, err := run("", "restore", file, "--data", other, "--identity", keys)
	require.NoError(t, err)
	assert.Contains(t, said, "The database is back")
	require.NoError(t, private(ctx, other, func(_ context.Context, s *store.Store, _ *catalog.Catalog) error {
		n, err := s.Schools(ctx)
		assert.EqualValues(t, 1, n)
		return err
	}))
}

// reachable is a folder that the user postgres reaches as well.
func reachable(t *testing.T) string {
	dir, err := os.MkdirTemp("", "jetprimer-command-")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o755))
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	return dir
}
