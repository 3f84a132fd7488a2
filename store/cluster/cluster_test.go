package cluster_test

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/store/cluster"
)

// folder is one that the user postgres can reach, should root run the tests.
func folder(t *testing.T) string {
	dir, err := os.MkdirTemp("", "jetprimer-cluster-")
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	return dir
}

func TestDataStaysBetweenStarts(t *testing.T) {
	ctx, dir := context.Background(), folder(t)
	do := func(statement string) int {
		c, err := cluster.Start(ctx, dir, cluster.Options{})
		require.NoError(t, err)
		defer func() { require.NoError(t, c.Stop()) }()
		conn, err := pgx.Connect(ctx, c.URL)
		require.NoError(t, err)
		defer conn.Close(ctx)
		if statement != "" {
			_, err = conn.Exec(ctx, statement)
			require.NoError(t, err)
		}
		var n int
		require.NoError(t, conn.QueryRow(ctx, "select count(*) from kept").Scan(&n))
		var where string
		require.NoError(t, conn.QueryRow(ctx, "show listen_addresses").Scan(&where))
		assert.Equal(t, "127.0.0.1", where)

		stranger, err := pgx.ParseConfig(c.URL)
		require.NoError(t, err)
		stranger.Password = "guessed"
		_, err = pgx.ConnectConfig(ctx, stranger)
		assert.ErrorContains(t, err, "password authentication failed")
		return n
	}
	assert.Equal(t, 1, do("create table kept as select 1"))
	assert.Equal(t, 1, do(""))
	secret, err := os.Stat(filepath.Join(dir, "superuser"))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), secret.Mode().Perm())
}

func TestAFolderOutOfReachIsNamed(t *testing.T) {
	if os.Geteuid() != 0 {
		t.Skip("only root runs the server as somebody else")
	}
	closed := filepath.Join(folder(t), "closed")
	require.NoError(t, os.Mkdir(closed, 0o700))
	_, err := cluster.Start(context.Background(), filepath.Join(closed, "data"), cluster.Options{Scratch: true})
	require.Error(t, err)
	assert.True(t, strings.Contains(err.Error(), "cannot reach") && strings.Contains(err.Error(), closed), err.Error())
}
