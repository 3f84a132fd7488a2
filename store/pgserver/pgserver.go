// Package pgserver runs a private PostgreSQL server on loopback: for a demo or a small
// school, whose data stays, and for tests, whose data is deleted.
package pgserver

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"
)

// Cluster is a running server.
type Cluster struct {
	// URL connects as the superuser to the database postgres. It is for
	// provisioning only; the application never uses it.
	URL  string
	Port int
	held *os.File // locked as long as the folder is in use

	bin, dir string
	as       *syscall.Credential
	options  Options
	mu       sync.Mutex
	process  *process
	stopped  bool
}

// process is a server that runs.
type process struct {
	cmd    *exec.Cmd
	exited chan struct{} // closed once it has ended
}

// Options of Start.
type Options struct {
	// Scratch trades durability for speed: for data that is thrown away.
	Scratch bool
	// Port is where it listens; 0 for one that is free.
	Port int
}

// Start runs a server whose data is in dir, which is made when missing. It
// listens on 127.0.0.1 only, on a port that is free. Started by root it runs
// as the user postgres, since PostgreSQL refuses to run as root.
func Start(ctx context.Context, dir string, o Options) (*Cluster, error) {
	bin, err := Binaries()
	if err != nil {
		return nil, err
	}
	dir, err = filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	as, err := account(dir)
	if err != nil {
		return nil, err
	}
	held, err := hold(dir)
	if err != nil {
		return nil, err
	}
	c, err := start(ctx, bin, dir, as, o)
	if err != nil {
		_ = held.Close()
		return nil, err
	}
	c.held = held
	return c, nil
}

// hold takes the folder for this process alone. The system gives it back when
// the process ends, however it ends.
func hold(dir string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(dir, "in-use"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("taking the data folder: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		_ = f.Close()
		return nil, fmt.Errorf(
			"%s is in use by another run of this program: stop it, or choose another folder with --data", dir)
	}
	return f, nil
}

// Running is the port of the server that another run of this program has on the
// data in a folder; 0 for none.
func Running(dir string) int {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return 0
	}
	data := filepath.Join(dir, "postgres")
	text, err := os.ReadFile(filepath.Join(data, "postmaster.pid"))
	lines := strings.Split(string(text), "\n")
	if err != nil || len(lines) < 4 {
		return 0
	}
	pid, err := strconv.Atoi(strings.TrimSpace(lines[0]))
	if err != nil || !serves(pid, data) {
		return 0
	}
	port, _ := strconv.Atoi(strings.TrimSpace(lines[3]))
	return port
}

// takeOver stops the server that a run which was killed has left behind on this
// data, and takes away the note of one that is gone. The folder is held: no
// other run's server can be there.
func takeOver(data string) error {
	note := filepath.Join(data, "postmaster.pid")
	text, err := os.ReadFile(note)
	if err != nil {
		return nil // none was left
	}
	first, _, _ := strings.Cut(string(text), "\n")
	pid, err := strconv.Atoi(strings.TrimSpace(first))
	if err != nil || pid <= 1 || !serves(pid, data) {
		return os.Remove(note) // its server is gone; the number may be another program's by now
	}
	if err := syscall.Kill(pid, syscall.SIGINT); err != nil {
		return fmt.Errorf("stopping the database server that an earlier run left behind: %w", err)
	}
	for range 400 {
		if !serves(pid, data) {
			return nil
		}
		time.Sleep(50 * time.Millisecond)
	}
	return fmt.Errorf("the database server that an earlier run left behind, process %d, did not stop within 20 s", pid)
}

// serves reports whether the process is a PostgreSQL server on this data.
func serves(pid int, data string) bool {
	command, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	args := strings.Split(string(command), "\x00")
	return err == nil && len(args) > 2 && filepath.Base(args[0]) == "postgres" && args[1] == "-D" && args[2] == data
}

func start(ctx context.Context, bin, dir string, as *syscall.Credential, o Options) (*Cluster, error) {
	data, secret := filepath.Join(dir, "postgres"), filepath.Join(dir, "superuser")
	if err := takeOver(data); err != nil {
		return nil, err
	}
	if _, err := os.Stat(filepath.Join(data, "PG_VERSION")); errors.Is(err, os.ErrNotExist) {
		if err := initialise(ctx, bin, data, secret, as); err != nil {
			return nil, err
		}
	}
	password, err := os.ReadFile(secret)
	if err != nil {
		return nil, fmt.Errorf("reading the database's password: %w", err)
	}
	if o.Port == 0 {
		if o.Port, err = freePort(); err != nil {
			return nil, err
		}
	}
	c := &Cluster{Port: o.Port, bin: bin, dir: dir, as: as, options: o}
	c.URL = (&url.URL{Scheme: "postgres", User: url.UserPassword("postgres", string(password)),
		Host: fmt.Sprintf("127.0.0.1:%d", o.Port), Path: "postgres", RawQuery: "sslmode=disable"}).String()
	return c, c.launch(ctx)
}

// launch starts the server and waits until it answers; one that does not is stopped.
func (c *Cluster) launch(ctx context.Context) error {
	args := []string{"-D", filepath.Join(c.dir, "postgres"), "-p", strconv.Itoa(c.Port), "-c",
		"listen_addresses=127.0.0.1", "-c", "unix_socket_directories=",
		// a client's mistakes, and what people typed, have no place in its log
		"-c", "log_min_messages=log", "-c", "log_min_error_statement=panic"}
	if c.options.Scratch {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off")
	}
	log, err := os.Create(c.log())
	if err != nil {
		return fmt.Errorf("making the database's log: %w", err)
	}
	defer log.Close()
	cmd := exec.Command(filepath.Join(c.bin, "postgres"), args...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.as, Setpgid: true}
	cmd.Dir, cmd.Stdout, cmd.Stderr = "/", log, log
	c.mu.Lock()
	if c.stopped {
		c.mu.Unlock()
		return errStopped
	}
	if err := cmd.Start(); err != nil {
		c.mu.Unlock()
		return fmt.Errorf("starting PostgreSQL: %w", err)
	}
	p := &process{cmd, make(chan struct{})}
	c.process = p
	c.mu.Unlock()
	go func() { _ = cmd.Wait(); close(p.exited) }()
	if err := c.ready(ctx, p); err != nil {
		_ = p.stop()
		return fmt.Errorf("%w: %s", err, c.lastWords())
	}
	return nil
}

func (c *Cluster) log() string { return filepath.Join(c.dir, "postgres.log") }

// lastWords are the end of what the server wrote into its log.
func (c *Cluster) lastWords() string {
	said, _ := os.ReadFile(c.log())
	return strings.TrimSpace(string(said[max(0, len(said)-1000):]))
}

var errStopped = errors.New("the database was stopped")

// How long it is tried to bring a server back that has ended by itself, and how long is
// waited between two tries at the most.
const (
	keptFor     = 10 * time.Minute
	betweenMost = 30 * time.Second
)

// Keep brings the server back whenever it ends by itself, such as after a disk was full, until
// the context ends or Stop is called. say is told of it in sentences. Where it cannot be
// brought back in time the error says why.
func (c *Cluster) Keep(ctx context.Context, say func(words string)) error {
	for {
		c.mu.Lock()
		p := c.process
		c.mu.Unlock()
		select {
		case <-ctx.Done():
			return nil
		case <-p.exited:
		}
		if c.isStopped() {
			return nil
		}
		say("The database has ended by itself, and is started again. " + c.free())
		if err := c.back(ctx, say); err != nil {
			if c.isStopped() || ctx.Err() != nil {
				return nil
			}
			return fmt.Errorf("the database ended by itself and could not be brought back: %s Its log is %s. %w",
				c.free(), c.log(), err)
		}
		say("The database is back. Nothing that was acknowledged is lost.")
	}
}

// back tries to bring the server back, with growing pauses.
func (c *Cluster) back(ctx context.Context, say func(words string)) error {
	until := time.Now().Add(keptFor)
	for wait := time.Second; ; wait = min(2*wait, betweenMost) {
		err := takeOver(filepath.Join(c.dir, "postgres"))
		if err == nil {
			err = c.launch(ctx)
		}
		if err == nil || errors.Is(err, errStopped) || time.Now().Add(wait).After(until) {
			return err
		}
		say(fmt.Sprintf("The database could not be started; it is tried again in %s. %s", wait, c.free()))
		select {
		case <-time.After(wait):
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

func (c *Cluster) isStopped() bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.stopped
}

// free says how much room there is on the disk of the data.
func (c *Cluster) free() string {
	var disk syscall.Statfs_t
	if syscall.Statfs(c.dir, &disk) != nil {
		return ""
	}
	return fmt.Sprintf("%d MB are free on the disk of %s.", disk.Bavail*uint64(disk.Bsize)>>20, c.dir)
}

// Stop ends the server, rolling back what is not committed, and waits for it.
func (c *Cluster) Stop() error {
	if c.held != nil {
		defer c.held.Close()
	}
	c.mu.Lock()
	c.stopped = true
	p := c.process
	c.mu.Unlock()
	return p.stop()
}

func (p *process) stop() error {
	_ = p.cmd.Process.Signal(syscall.SIGINT)
	select {
	case <-p.exited:
		return nil
	case <-time.After(20 * time.Second):
		_ = p.cmd.Process.Signal(syscall.SIGQUIT)
		return errors.New("PostgreSQL did not stop within 20 s and was told to quit at once")
	}
}

// Kill ends the server and all its processes at once, as a fault of the machine
// would, and lets go of the folder: what was committed is there when a server
// is started on it again.
func (c *Cluster) Kill() {
	if c.held != nil {
		defer c.held.Close()
	}
	c.mu.Lock()
	c.stopped = true
	p := c.process
	c.mu.Unlock()
	pid := p.cmd.Process.Pid
	_ = p.cmd.Process.Signal(syscall.SIGSTOP) // no new process while they are counted
	all, _ := filepath.Glob("/proc/[0-9]*/stat")
	var children []int
	for _, stat := range all {
		text, err := os.ReadFile(stat)
		if err != nil {
			continue
		}
		// The name, in brackets, may hold spaces; the state and the parent follow.
		_, after, _ := strings.Cut(string(text), ") ")
		if fields := strings.Fields(after); len(fields) > 1 && fields[1] == strconv.Itoa(pid) {
			if child, err := strconv.Atoi(filepath.Base(filepath.Dir(stat))); err == nil {
				_ = syscall.Kill(child, syscall.SIGKILL)
				children = append(children, child)
			}
		}
	}
	_ = p.cmd.Process.Kill()
	<-p.exited
	// None may still hold the shared memory when the next server starts.
	for _, child := range children {
		for range 200 {
			text, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", child))
			if _, after, _ := strings.Cut(string(text), ") "); err != nil || strings.HasPrefix(after, "Z") {
				break
			}
			time.Sleep(25 * time.Millisecond)
		}
	}
}

func (c *Cluster) ready(ctx context.Context, p *process) error {
	for range 300 {
		select {
		case <-p.exited:
			return fmt.Errorf("PostgreSQL ended while starting: %s", p.cmd.ProcessState)
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
		}
		probe := exec.CommandContext(ctx, filepath.Join(c.bin, "pg_isready"), "-q", "-h", "127.0.0.1", "-p",
			strconv.Itoa(c.Port))
		if probe.Run() == nil {
			return nil
		}
	}
	return errors.New("PostgreSQL did not answer within 15 s")
}

// Binaries finds the newest PostgreSQL server as Debian lays it out, or the
// one on the path.
func Binaries() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/initdb")
	version := func(path string) int {
		n, _ := strconv.Atoi(strings.Split(path, "/")[4])
		return n
	}
	if len(found) > 0 {
		newest := slices.MaxFunc(found, func(a, b string) int { return version(a) - version(b) })
		return filepath.Dir(newest), nil
	}
	if path, err := exec.LookPath("initdb"); err == nil {
		return filepath.Dir(path), nil
	}
	return "", errors.New("no PostgreSQL server is installed: run make setup, or install Debian's package postgresql")
}

// account is who runs the server: nobody special, or the user postgres for
// root, who then must be able to reach the folder.
func account(dir string) (*syscall.Credential, error) {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	if os.Geteuid() != 0 {
		return nil, nil
	}
	pg, err := user.Lookup("postgres")
	if err != nil {
		return nil, errors.New("started by root, but there is no user postgres to run the database as: install " +
			"Debian's package postgresql")
	}
	uid, _ := strconv.Atoi(pg.Uid)
	gid, _ := strconv.Atoi(pg.Gid)
	as := &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
	if err := os.Chown(dir, uid, gid); err != nil {
		return nil, fmt.Errorf("giving %s to the user postgres: %w", dir, err)
	}
	probe := exec.Command("/usr/bin/test", "-w", dir)
	probe.SysProcAttr = &syscall.SysProcAttr{Credential: as}
	probe.Dir = "/"
	if probe.Run() != nil {
		return nil, fmt.Errorf("the user postgres cannot reach %s: let others enter the folders above it (chmod "+
			"o+x), or choose another with --data", dir)
	}
	return as, nil
}

func initialise(ctx context.Context, bin, data, secret string, as *syscall.Credential) error {
	if err := os.WriteFile(secret, []byte(rand.Text()), 0o600); err != nil {
		return fmt.Errorf("writing the database's password: %w", err)
	}
	if as != nil {
		if err := os.Chown(secret, int(as.Uid), int(as.Gid)); err != nil {
			return err
		}
	}
	initdb := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", data, "-U", "postgres", "--pwfile", secret,
		"--auth", "scram-sha-256", "--encoding", "UTF8", "--locale", "C.UTF-8", "--no-sync")
	initdb.SysProcAttr = &syscall.SysProcAttr{Credential: as}
	initdb.Dir = "/"
	if out, err := initdb.CombinedOutput(); err != nil {
		return fmt.Errorf("making the database: %w: %s", err, out)
	}
	return nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("finding a free port: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
