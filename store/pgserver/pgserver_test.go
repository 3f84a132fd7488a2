package pgserver_test

import (
	"bufio"
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/store/pgserver"
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
		c, err := pgserver.Start(ctx, dir, pgserver.Options{})
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

// TestKilledRunsAreTakenOver: a run that is killed leaves its server behind;
// the next one stops it and finds everything that was committed.
func TestKilledRunsAreTakenOver(t *testing.T) {
	ctx := context.Background()
	if dir := os.Getenv("CLUSTER_TO_BE_KILLED"); dir != "" { // the run that is killed
		c, err := pgserver.Start(ctx, dir, pgserver.Options{})
		require.NoError(t, err)
		conn, err := pgx.Connect(ctx, c.URL)
		require.NoError(t, err)
		_, err = conn.Exec(ctx, "create table kept as select 1")
		require.NoError(t, err)
		fmt.Println("running")
		time.Sleep(time.Minute)
		return
	}
	dir := folder(t)
	run := exec.Command(os.Args[0], "-test.run", "^TestKilledRunsAreTakenOver$")
	run.Env = append(os.Environ(), "CLUSTER_TO_BE_KILLED="+dir)
	out, err := run.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, run.Start())
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	require.Equal(t, "running\n", line)

	_, err = pgserver.Start(ctx, dir, pgserver.Options{})
	assert.ErrorContains(t, err, "is in use by another run", "a living run keeps its data")
	require.NoError(t, run.Process.Kill())
	_ = run.Wait()

	for _, left := range []string{"the server that was left behind", "a note whose number is another program's"} {
		if left[0] == 'a' {
			require.NoError(t,
				os.WriteFile(filepath.Join(dir, "postgres", "postmaster.pid"),
					fmt.Appendf(nil, "%d\n%s\n", os.Getpid(), dir), 0o600))
		}
		c, err := pgserver.Start(ctx, dir, pgserver.Options{})
		require.NoError(t, err, left)
		conn, err := pgx.Connect(ctx, c.URL)
		require.NoError(t, err)
		var n int
		require.NoError(t, conn.QueryRow(ctx, "select count(*) from kept").Scan(&n), left)
		assert.Equal(t, 1, n)
		_ = conn.Close(ctx)
		require.NoError(t, c.Stop())
	}
}

func TestAFolderOutOfReachIsNamed(t *testing.T) {
	if os.Geteuid() != 0 {
		t.Skip("only root runs the server as somebody else")
	}
	closed := filepath.Join(folder(t), "closed")
	require.NoError(t, os.Mkdir(closed, 0o700))
	_, err := pgserver.Start(context.Background(), filepath.Join(closed, "data"), pgserver.Options{Scratch: true})
	require.Error(t, err)
	assert.True(t, strings.Contains(err.Error(), "cannot reach") && strings.Contains(err.Error(), closed), err.Error())
}

// TestADatabaseThatEndsIsBroughtBack: killed under the program it comes back at the same
// place, with what was committed; where it cannot, such as when its data is gone, that is
// said again and again and the pauses grow; who stops it is not kept waiting.
func TestADatabaseThatEndsIsBroughtBack(t *testing.T) {
	ctx, dir := context.Background(), folder(t)
	c, err := pgserver.Start(ctx, dir, pgserver.Options{})
	require.NoError(t, err)
	defer func() { _ = c.Stop() }()
	do := func(statement string) error {
		conn, err := pgx.Connect(ctx, c.URL)
		if err == nil {
			_, err = conn.Exec(ctx, statement)
			_ = conn.Close(ctx)
		}
		return err
	}
	require.NoError(t, do("create table kept as select 1"))
	said, ended := make(chan string, 100), make(chan error, 1)
	go func() { ended <- c.Keep(ctx, func(words string) { said <- words }) }()
	end := func() {
		note, err := os.ReadFile(filepath.Join(dir, "postgres", "postmaster.pid"))
		require.NoError(t, err)
		pid, err := strconv.Atoi(strings.SplitN(string(note), "\n", 2)[0])
		require.NoError(t, err)
		require.NoError(t, syscall.Kill(pid, syscall.SIGQUIT)) // it ends without tidying up
	}
	end()
	assert.Contains(t, <-said, "ended by itself")
	for words := range said {
		if strings.Contains(words, "is back") {
			break
		}
	}
	require.NoError(t, do("insert into kept values (2)"))

	control, gone := filepath.Join(dir, "postgres", "global", "pg_control"), filepath.Join(dir, "elsewhere")
	require.NoError(t, os.Rename(control, gone))
	end()
	assert.Contains(t, <-said, "ended by itself")
	words := <-said
	assert.Contains(t, words, "could not be started; it is tried again in 1s")
	assert.Contains(t, words, "MB are free on the disk")
	require.NoError(t, os.Rename(gone, control))
	for words := range said {
		if strings.Contains(words, "is back") {
			break
		}
	}
	require.NoError(t, do("insert into kept values (3)"))
	require.NoError(t, c.Stop())
	assert.NoError(t, <-ended, "who stops it is not told that it ended")
}
