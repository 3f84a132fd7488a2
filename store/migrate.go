package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"path"

	"github.com/jackc/pgx/v5"
	_ "github.com/jackc/pgx/v5/stdlib" // the driver that goose migrates with
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
)

//go:embed migrations
var migrations embed.FS

// The two roles: the owner migrates and backs up; the application reads and
// writes what it is granted and owns nothing.
const (
	OwnerRole = "jetprimer_owner"
	AppRole   = "jetprimer_app"
)

// Provision makes the two roles and a database owned by the first, where they
// are missing, and sets their passwords. superURL connects as a role that may
// do so. It returns the URLs of owner and application.
func Provision(ctx context.Context, superURL, database, ownerPassword, appPassword string) (ownerURL, appURL string,
	err error) {
	conn, err := pgx.Connect(ctx, superURL)
	if err != nil {
		return "", "", fmt.Errorf("connecting to provision: %w", err)
	}
	defer conn.Close(ctx)
	for role, password := range map[string]string{OwnerRole: ownerPassword, AppRole: appPassword} {
		var known bool
		if err := conn.QueryRow(ctx, "select exists (select from pg_roles where rolname = $1)",
			role).Scan(&known); err != nil {
			return "", "", fmt.Errorf("looking for role %s: %w", role, err)
		}
		verb := "create"
		if known {
			verb = "alter"
		}
		// A utility statement takes no parameters; format quotes for us.
		var statement string
		if err := conn.QueryRow(ctx, "select format($1, $2::text, $3::text)",
			verb+" role %I login nosuperuser nobypassrls password %L", role, password).Scan(&statement); err != nil {
			return "", "", err
		}
		if _, err := conn.Exec(ctx, statement); err != nil {
			return "", "", fmt.Errorf("making role %s: %w", role, err)
		}
	}
	var known bool
	if err := conn.QueryRow(ctx, "select exists (select from pg_database where datname = $1)",
		database).Scan(&known); err != nil {
		return "", "", err
	}
	if !known {
		if _, err := conn.Exec(ctx,
			"create database "+pgx.Identifier{database}.Sanitize()+" owner "+OwnerRole); err != nil {
			return "", "", fmt.Errorf("making database %s: %w", database, err)
		}
	}
	as := func(role, password string) string {
		u, _ := url.Parse(superURL)
		u.User, u.Path = url.UserPassword(role, password), "/"+database
		return u.String()
	}
	return as(OwnerRole, ownerPassword), as(AppRole, appPassword), nil
}

// Migrate brings the database to the newest schema as its owner. Several
// servers may try at once: goose holds a lock while it works.
func Migrate(ctx context.Context, ownerURL string) error {
	db, err := sql.Open("pgx", ownerURL)
	if err != nil {
		return fmt.Errorf("opening the database to migrate: %w", err)
	}
	defer db.Close()
	if _, err := db.ExecContext(ctx, "grant usage on schema public to "+AppRole); err != nil {
		return fmt.Errorf("granting the schema: %w", err)
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db, files, goose.WithSessionLocker(locker))
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	if _, err := db.ExecContext(ctx, "grant select on goose_db_version to "+AppRole); err != nil {
		return fmt.Errorf("granting the schema's version: %w", err)
	}
	return nil
}

// SchemaVersion is the newest migration that this program brings.
func SchemaVersion() (int64, error) {
	names, err := fs.Glob(migrations, "migrations/*.sql")
	if err != nil {
		return 0, err
	}
	newest := int64(0)
	for _, name := range names {
		v, err := goose.NumericComponent(path.Base(name))
		if err != nil {
			return 0, fmt.Errorf("reading the migrations: %w", err)
		}
		newest = max(newest, v)
	}
	return newest, nil
}

// ErrSchema says that the database is not at the schema of this program.
var ErrSchema = errors.New("the database is not at the schema of this program")

// CheckSchema refuses a database that has not been migrated to this program's
// schema; a newer one serves, since migrations only add.
func (s *Store) CheckSchema(ctx context.Context) error {
	want, err := SchemaVersion()
	if err != nil {
		return err
	}
	var readable bool
	var at int64
	if err := s.db.WithContext(ctx).Raw("select has_table_privilege(current_user, 'goose_db_version', 'select')").
		Row().Scan(&readable); err != nil {
		return fmt.Errorf("looking at the schema: %w", plain(err))
	}
	if readable {
		if err := s.db.WithContext(ctx).Raw("select coalesce(max(version_id), 0) from goose_db_version " +
			"where is_applied").Row().Scan(&at); err != nil {
			return fmt.Errorf("looking at the schema: %w", plain(err))
		}
	}
	if at < want {
		return fmt.Errorf("%w: it is at version %d, and %d is needed. Run jetprimer migrate with the owner's role first",
			ErrSchema, at, want)
	}
	return nil
}

// ErrRole says that the application's role can do more than it may.
var ErrRole = errors.New("the database role is not fit to serve")

// checkRole refuses a role that could alter or erase events, or look past
// row-level security.
func (s *Store) checkRole(ctx context.Context) error {
	var super, bypass bool
	var owned int
	var changes bool
	err := s.db.WithContext(ctx).Raw(`
		select rolsuper, rolbypassrls,
		  (select count(*) from pg_class c where c.relowner = r.oid and c.relnamespace = 'public'::regnamespace),
		  exists (select from unnest(array['lesson_events', 'seals']) t, unnest(array['update', 'delete', 'truncate']) p where has_table_privilege(r.rolname, t, p))
		    or has_table_privilege(r.rolname, 'lessons', 'delete') or has_table_privilege(r.rolname, 'school_feed', 'delete')
		from pg_roles r where rolname = current_user`).Row().Scan(&super, &bypass, &owned, &changes)
	switch {
	case err != nil:
		return fmt.Errorf("looking at the database role: %w (has the database been migrated?)", plain(err))
	case super || bypass:
		return fmt.Errorf("%w: it is a superuser or bypasses row-level security; use %s", ErrRole, AppRole)
	case owned > 0:
		return fmt.Errorf("%w: it owns %d tables; use %s", ErrRole, owned, AppRole)
	case changes:
		return fmt.Errorf("%w: it could change or erase what is signed; use %s", ErrRole, AppRole)
	}
	return nil
}
