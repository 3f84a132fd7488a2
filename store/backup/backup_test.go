package backup_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"filippo.io/age"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
	"jetprimer/store/backup"
)

func TestMain(m *testing.M) { schooltest.Main(m) }

func chain(t *testing.T, s *store.Store) (c store.Chain) {
	require.NoError(t, s.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) (err error) {
		c, err = tx.VerifyChain()
		return err
	}))
	return c
}

// TestABackupBringsTheSchoolBack: into an empty database, whole: the same seals,
// proved, and served by this program. What is not whole, or not the key's, brings
// nothing.
func TestABackupBringsTheSchoolBack(t *testing.T) {
	ctx, d := context.Background(), schooltest.Demo(t, "x")
	dir := t.TempDir()
	key, err := age.GenerateX25519Identity()
	require.NoError(t, err)
	plain, closed := filepath.Join(dir, "plain.backup"), filepath.Join(dir, "closed.backup")
	require.NoError(t, backup.Write(ctx, d.OwnerURL, plain))
	require.NoError(t, backup.Write(ctx, d.OwnerURL, closed, key.Recipient()))
	assert.ErrorContains(t, backup.Write(ctx, d.OwnerURL, plain), "is there already")
	fresh := func(name string) (owner, app string) {
		owner, app, err := store.Provision(ctx, schooltest.SuperURL(), name, "owner", "app")
		require.NoError(t, err)
		return owner, app
	}
	owner, app := fresh(fmt.Sprintf("back_%d", os.Getpid()))

	data, err := os.ReadFile(plain)
	require.NoError(t, err)
	sealed, err := os.ReadFile(closed)
	require.NoError(t, err)
	assert.NotContains(t, string(sealed), "PGDMP")
	bad := func(name string, content []byte) string {
		file := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(file, content, 0o600))
		return file
	}
	flipped := func(from []byte) []byte {
		out := append([]byte{}, from...)
		out[len(out)/2] ^= 1
		return out
	}
	other, err := age.GenerateX25519Identity()
	require.NoError(t, err)
	for file, want := range map[string]string{
		bad("short", data[:len(data)-9]): "damaged or cut short", bad("flipped", flipped(data)): "damaged or cut short",
		bad("text", []byte("a letter")):             "no backup",
		bad("empty", nil):                           "no backup",
		bad("closed-short", sealed[:len(sealed)/2]): "damaged or cut short",
		bad("closed-flipped", flipped(sealed)):      "damaged or cut short",
		filepath.Join(dir, "none"):                  "no such file",
	} {
		assert.ErrorContains(t, backup.Restore(ctx, owner, file, key), want, file)
	}
	assert.ErrorContains(t, backup.Restore(ctx, owner, closed), "give the file of its key")
	assert.ErrorContains(t, backup.Restore(ctx, owner, closed, other), "cannot be decrypted")
	assert.ErrorIs(t, backup.Restore(ctx, d.OwnerURL, plain), backup.ErrNotEmpty)

	require.NoError(t, backup.Restore(ctx, owner, closed, key))
	require.NoError(t, store.Migrate(ctx, owner))
	s, err := store.Open(ctx, app, schooltest.Secret, d.Catalog)
	require.NoError(t, err)
	defer s.Close()
	before, after := chain(t, d.Store), chain(t, s)
	assert.Equal(t, before, after)
	assert.Positive(t, after.Seals)
	_, err = store.Open(ctx, app, "another secret, not the school's", d.Catalog)
	assert.Error(t, err, "the secret is not in the backup")
}
