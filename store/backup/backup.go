// Package backup keeps a whole database in one file and brings it back, with
// PostgreSQL's own tools underneath. The file is what pg_dump writes in its custom
// format, packed by gzip, whose checksum tells a file that was cut short or
// changed; with a key it is encrypted by age around that. The secret that opens
// the schools' signing keys is never in it.
package backup

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"filippo.io/age"
	"github.com/jackc/pgx/v5"

	"jetprimer/store/pgserver"
)

// ErrNotEmpty says that a restore would write over something.
var ErrNotEmpty = errors.New("the database is not empty: a backup is brought back into an empty one")

// encrypted is how files of age begin.
const encrypted = "age-encryption.org/"

// Write keeps the database in a file, as it is at one moment, while others work
// in it. recipients may be empty. The file appears once it is whole; one that is
// there already is not written over.
func Write(ctx context.Context, ownerURL, file string, recipients ...age.Recipient) (err error) {
	if _, err := os.Stat(file); err == nil {
		return fmt.Errorf("%s is there already", file)
	}
	part, err := os.OpenFile(file+".part", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("writing the backup: %w", err)
	}
	defer func() {
		if err != nil {
			_ = part.Close()
			_ = os.Remove(part.Name())
		}
	}()
	var out io.WriteCloser = part
	if len(recipients) > 0 {
		if out, err = age.Encrypt(part, recipients...); err != nil {
			return fmt.Errorf("encrypting the backup: %w", err)
		}
	}
	packed := gzip.NewWriter(out)
	dump, said, err := tool(ctx, ownerURL, "pg_dump", "--format=custom", "--compress=0", "--no-owner")
	if err != nil {
		return err
	}
	dump.Stdout = packed
	if err := dump.Run(); err != nil {
		return fmt.Errorf("reading the database: %w: %s", err, said)
	}
	steps := []func() error{packed.Close, part.Sync, part.Close}
	if out != part {
		steps = slices.Insert(steps, 1, out.Close)
	}
	for _, step := range steps {
		if err := step(); err != nil {
			return fmt.Errorf("writing the backup: %w", err)
		}
	}
	return os.Rename(part.Name(), file)
}

// Restore brings a backup back into an empty database: all of it, or nothing. It
// reads the file twice, first to see that it is whole.
func Restore(ctx context.Context, ownerURL, file string, identities ...age.Identity) error {
	if err := empty(ctx, ownerURL); err != nil {
		return err
	}
	whole := func(to io.Writer) error {
		f, err := os.Open(file)
		if err != nil {
			return err
		}
		defer f.Close()
		unpacked, err := open(f, identities)
		if err != nil {
			return err
		}
		if _, err := io.Copy(to, unpacked); err != nil {
			return fmt.Errorf("%s is damaged or cut short: %w", file, err)
		}
		return nil
	}
	if err := whole(io.Discard); err != nil {
		return err
	}
	restore, said, err := tool(ctx, ownerURL, "pg_restore", "--no-owner", "--single-transaction", "--exit-on-error",
		"--dbname="+database(ownerURL))
	if err != nil {
		return err
	}
	in, err := restore.StdinPipe()
	if err != nil {
		return err
	}
	if err := restore.Start(); err != nil {
		return err
	}
	read := whole(in)
	if read == nil {
		read = in.Close()
	} else {
		_ = restore.Process.Kill() // its transaction is rolled back
	}
	if err := restore.Wait(); err != nil {
		return fmt.Errorf("bringing the backup back: %w: %s", err, said)
	}
	return read
}

// open reads a backup: through its encryption where it has one.
func open(f io.Reader, identities []age.Identity) (io.Reader, error) {
	b := bufio.NewReader(f)
	begins, _ := b.Peek(len(encrypted))
	var in io.Reader = b
	if string(begins) == encrypted {
		if len(identities) == 0 {
			return nil, errors.New("the backup is encrypted: give the file of its key")
		}
		var err error
		if in, err = age.Decrypt(b, identities...); err != nil {
			return nil, fmt.Errorf("the backup cannot be decrypted: %w", err)
		}
	}
	unpacked, err := gzip.NewReader(in)
	if err != nil {
		return nil, fmt.Errorf("this is no backup, or it is damaged: %w", err)
	}
	return unpacked, nil
}

// empty refuses a database that holds anything.
func empty(ctx context.Context, ownerURL string) error {
	conn, err := pgx.Connect(ctx, ownerURL)
	if err != nil {
		return fmt.Errorf("connecting to the database: %w", err)
	}
	defer conn.Close(ctx)
	var tables int
	if err := conn.QueryRow(ctx,
		"select count(*) from information_schema.tables where table_schema = 'public'").Scan(&tables); err != nil {
		return err
	}
	if tables > 0 {
		return ErrNotEmpty
	}
	return nil
}

func database(ownerURL string) string {
	c, err := pgx.ParseConfig(ownerURL)
	if err != nil {
		return ""
	}
	return c.Database
}

// tool is one of PostgreSQL's programs on a database; the password goes by the
// environment, where other people of the machine do not read it.
func tool(ctx context.Context, ownerURL, name string, args ...string) (*exec.Cmd, *bytes.Buffer, error) {
	c, err := pgx.ParseConfig(ownerURL)
	if err != nil {
		return nil, nil, errors.New("the owner's database is not given as a URL that can be read")
	}
	bin, err := pgserver.Binaries()
	if err != nil {
		return nil, nil, err
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, name), args...)
	cmd.Env = []string{
		"PGHOST=" + c.Host, "PGPORT=" + strconv.Itoa(int(c.Port)), "PGUSER=" + c.User, "PGPASSWORD=" + c.Password,
		"PGDATABASE=" + c.Database, "LC_ALL=C",
	}
	if mode := sslMode(ownerURL); mode != "" {
		cmd.Env = append(cmd.Env, "PGSSLMODE="+mode)
	}
	said := &bytes.Buffer{}
	cmd.Stderr = said
	return cmd, said, nil
}

// sslMode is how the URL asks to be connected, for tools that are not given it.
func sslMode(ownerURL string) string {
	_, after, there := strings.Cut(ownerURL, "sslmode=")
	if !there {
		return ""
	}
	mode, _, _ := strings.Cut(after, "&")
	return mode
}
