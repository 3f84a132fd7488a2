// Package schooltest gives tests a PostgreSQL server of their own, and for each test that
// asks a migrated database, empty or with the demo school in it.
package schooltest

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"os"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/store"
	"jetprimer/store/pgserver"
)

// Secret is what the tests' signing keys are kept under.
const Secret = "a secret for the tests"

// Day is the day as of which the demo school is loaded in tests.
var Day = time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)

var (
	server    *pgserver.Cluster
	databases atomic.Int64
)

// Main starts the server, runs the package's tests and stops it: call it from
// TestMain. It returns, so that what TestMain deferred is done as well. What ships is
// shared by every school of a program: tests after which it is another have failed.
func Main(m *testing.M) {
	changed := false
	defer func() {
		if changed {
			fmt.Fprintln(os.Stderr, "the shipped catalog was changed while the tests ran")
			os.Exit(1)
		}
	}()
	before := shipped()
	dir, err := os.MkdirTemp("", "jetprimer-test-")
	if err == nil {
		defer os.RemoveAll(dir)
		server, err = pgserver.Start(context.Background(), dir, pgserver.Options{Scratch: true})
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	defer server.Stop()
	m.Run()
	changed = !bytes.Equal(before, shipped())
}

// shipped is the catalog that ships, as JSON.
func shipped() []byte {
	c, err := catalog.Shipped()
	if err != nil {
		panic(err)
	}
	written, err := json.Marshal(c)
	if err != nil {
		panic(err)
	}
	return written
}

// Database is a fresh database with its two URLs.
type Database struct {
	OwnerURL, AppURL string
	Catalog          *catalog.Catalog
	Store            *store.Store
}

// New makes a migrated, empty database and opens it as the application.
func New(t testing.TB) *Database {
	t.Helper()
	making.Lock()
	defer making.Unlock()
	return open(t, fmt.Sprintf("test_%d", databases.Add(1)))
}

// Demo makes a database with the demo school in it, as a copy of one that is
// made once; hash is everybody's password hash. Under the race detector it has no
// past: what happens at once needs none, and there it would take minutes.
func Demo(t testing.TB, hash string) *Database {
	t.Helper()
	template := "demo_" + fmt.Sprintf("%x", sha256.Sum256([]byte(hash)))[:8]
	making.Lock()
	defer making.Unlock()
	if !made[template] {
		d := open(t, template)
		require.NoError(t, fill(context.Background(), d.Store, d.Catalog, Day, hash))
		require.NoError(t, d.Store.Close())
		made[template] = true
	}
	name := fmt.Sprintf("test_%d", databases.Add(1))
	super, err := pgx.Connect(context.Background(), server.URL)
	require.NoError(t, err)
	defer super.Close(context.Background())
	_, err = super.Exec(context.Background(), "create database "+name+" owner "+store.OwnerRole+" template "+template)
	require.NoError(t, err)
	return open(t, name)
}

var (
	making sync.Mutex
	made   = map[string]bool{}
)

func open(t testing.TB, name string) *Database {
	t.Helper()
	ctx := context.Background()
	d := &Database{}
	var err error
	d.OwnerURL, d.AppURL, err = store.Provision(ctx, server.URL, name, "owner", "app")
	require.NoError(t, err)
	require.NoError(t, store.Migrate(ctx, d.OwnerURL))
	d.Catalog, err = catalog.Shipped()
	require.NoError(t, err)
	d.Store, err = store.Open(ctx, d.AppURL, Secret, d.Catalog)
	require.NoError(t, err)
	t.Cleanup(func() { _ = d.Store.Close() })
	return d
}

// Catalog is what ships.
func Catalog(t testing.TB) *catalog.Catalog {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	return c
}

// SuperURL connects as the superuser, to show that the application refuses to.
func SuperURL() string { return server.URL }
