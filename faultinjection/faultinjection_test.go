// Package faultinjection_test breaks the program, its database, the network and the device
// while lessons are brought in, and asserts that no event is lost or kept twice.
package faultinjection_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/access"
	"jetprimer/core/lesson"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server"
	"jetprimer/store"
	"jetprimer/store/pgserver"
)

func TestMain(m *testing.M) {
	if os.Getenv(aheadBy) != "" {
		os.Exit(m.Run()) // it serves another's database
	}
	schooltest.Main(m)
}

// tablet makes marks, and keeps them until the school has said that it holds
// them.
type tablet struct {
	lesson  string
	made    []lesson.Event
	waiting []lesson.Event
}

func newTablet() *tablet {
	t := &tablet{lesson: uuid.Must(uuid.NewV7()).String()}
	t.mark(lesson.KindOpened, fmt.Sprintf(`{"student":%q,"instructor":%q,"aircraft":"QZ-AAA","aircraftType":"alder-110","typeVersion":3,
		"list":"alder-110-full","listVersion":4,"method":"read-and-do","scale":"five","purpose":"training"}`,
		demo.Brandt.ID, demo.Okonjo.ID))
	return t
}

func (t *tablet) mark(kind, payload string) {
	n := int64(len(t.made) + 1)
	e := lesson.Event{
		ID: uuid.Must(uuid.NewV7()).String(), Device: "tablet", Seq: n, Counter: n, AtMs: n * 1000,
		Wall: "2026-11-24T10:00:00Z", Kind: kind, V: 1, Payload: json.RawMessage(payload),
	}
	t.made, t.waiting = append(t.made, e), append(t.waiting, e)
}

// settle forgets what the school holds, by the answers that came: fewer than
// were asked for when one was cut short.
func (t *tablet) settle(answers []lesson.Taken) error {
	for _, a := range answers {
		if a.Status == "refused" {
			return fmt.Errorf("%s was refused: %s", a.ID, a.Reason)
		}
		t.waiting = slices.DeleteFunc(t.waiting, func(e lesson.Event) bool { return e.ID == a.ID })
	}
	return nil
}

// ids are those of events, sorted.
func ids(events []lesson.Event) []string {
	out := make([]string, len(events))
	for i, e := range events {
		out[i] = e.ID
	}
	slices.Sort(out)
	return out
}

var errCrash = errors.New("the program dies here")

// TestNoHistoryLosesOrDoubles: a thousand random histories of a tablet and a
// school; between every two steps of a sync either side may stop: before the
// marks arrive, before they are committed, after it and before the answer, in
// the middle of the answer, before the tablet has noted it.
func TestNoHistoryLosesOrDoubles(t *testing.T) {
	d := schooltest.Demo(t, "x")
	ctx, by, now := context.Background(), store.Sender{ID: demo.Okonjo.ID,
		Roles: access.Roles{access.Instructor}}, schooltest.Day.Add(11*time.Hour)
	const histories = 1000
	var next atomic.Int64
	var crowd sync.WaitGroup
	for range 4 {
		crowd.Go(func() {
			for n := next.Add(1); n <= histories; n = next.Add(1) {
				if err := history(ctx, d, by, now, rand.New(rand.NewPCG(uint64(n), 10))); err != nil {
					t.Errorf("history %d: %v", n, err)
				}
			}
		})
	}
	crowd.Wait()
}

// history is one tablet's, to the end: everything it made is at the school, once.
func history(ctx context.Context, d *schooltest.Database, by store.Sender, now time.Time, random *rand.Rand) error {
	tab := newTablet()
	send := func(crash bool) (answers []lesson.Taken, err error) {
		batch := slices.Clone(tab.waiting[:1+random.IntN(len(tab.waiting))])
		if !slices.ContainsFunc(batch, func(e lesson.Event) bool { return e.ID == tab.made[0].ID }) &&
			slices.Contains(ids(tab.waiting), tab.made[0].ID) {
			batch = append(batch, tab.made[0]) // the opening goes first
		}
		random.Shuffle(len(batch), func(i, j int) { batch[i], batch[j] = batch[j], batch[i] })
		err = d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
			if answers, err = tx.Accept(tab.lesson, batch, by, now); err == nil && crash {
				err = errCrash
			}
			return err
		})
		return answers, err
	}
	for range 2 + random.IntN(4) {
		for range random.IntN(4) {
			tab.mark(lesson.KindNote, `{"words":"seen"}`)
		}
		if len(tab.waiting) == 0 {
			continue
		}
		switch random.IntN(5) {
		case 0: // they never arrive
		case 1: // the school dies before it has committed
			if _, err := send(true); !errors.Is(err, errCrash) {
				return err
			}
		case 2: // after it, and before the answer
			if _, err := send(false); err != nil {
				return err
			}
		case 3: // in the middle of the answer
			answers, err := send(false)
			if err == nil {
				err = tab.settle(answers[:random.IntN(len(answers)+1)])
			}
			if err != nil {
				return err
			}
		default:
			answers, err := send(false)
			if err == nil {
				err = tab.settle(answers)
			}
			if err != nil {
				return err
			}
		}
	}
	for len(tab.waiting) > 0 {
		answers, err := send(false)
		if err == nil {
			err = tab.settle(answers)
		}
		if err != nil {
			return err
		}
	}
	return d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		held, err := tx.Events(tab.lesson)
		if err == nil && !slices.Equal(ids(held), ids(tab.made)) {
			err = fmt.Errorf("%d events are held of %d made", len(held), len(tab.made))
		}
		return err
	})
}

// under is a school whose program and database can be killed and come again at
// the same places.
type under struct {
	testing.TB
	program, dir, url, app string
	port                   int
	pg                     *pgserver.Cluster
	cmd                    *exec.Cmd
	// roomy is a folder of the disk that the data lies on, empty where it is none of its own.
	roomy string
}

// aheadBy names by how much the clock of a program that is run is ahead.
const aheadBy = "JETPRIMER_CLOCK_AHEAD"

// TestServesAhead is the program with a clock that is wrong: no test of its own.
func TestServesAhead(t *testing.T) {
	by, err := time.ParseDuration(os.Getenv(aheadBy))
	if err != nil {
		t.Skip("run by TestSyncUnderFaults")
	}
	ships, err := catalog.Shipped()
	require.NoError(t, err)
	s, err := store.Open(context.Background(), os.Getenv("JETPRIMER_DATABASE"), schooltest.Secret, ships)
	require.NoError(t, err)
	app, err := server.New(
		server.Options{Store: s, Catalog: ships, Now: func() time.Time { return time.Now().Add(by) }})
	require.NoError(t, err)
	listener, err := net.Listen("tcp", os.Getenv("JETPRIMER_LISTEN"))
	require.NoError(t, err)
	fmt.Println("serving")
	require.NoError(t, http.Serve(listener, app)) // until it is killed
}

// serveAhead serves with a clock that is ahead.
func (u *under) serveAhead(by time.Duration) {
	u.cmd = exec.Command(os.Args[0], "-test.run", "^TestServesAhead$")
	u.cmd.Env = append(os.Environ(), aheadBy+"="+by.String(), "JETPRIMER_DATABASE="+u.app,
		"JETPRIMER_LISTEN="+strings.TrimPrefix(u.url, "http://"))
	u.begin()
}

// fill fills the disk of the data for a while. full says that there was a disk of its own to
// fill.
func (u *under) fill(long time.Duration) (full bool) {
	if u.roomy == "" {
		return false
	}
	filler := filepath.Join(u.roomy, "filler")
	f, err := os.Create(filler)
	require.NoError(u, err)
	zeros := make([]byte, 1<<20)
	for err == nil {
		_, err = f.Write(zeros)
	}
	for size := 4096; size > 0; size /= 2 { // to the last byte
		for err = nil; err == nil; {
			_, err = f.Write(zeros[:size])
		}
	}
	_ = f.Close()
	time.Sleep(long)
	require.NoError(u, os.Remove(filler))
	return true
}

func (u *under) serve() {
	u.cmd = exec.Command(u.program, "serve", "--listen", strings.TrimPrefix(u.url, "http://"))
	u.cmd.Env = append(os.Environ(), "JETPRIMER_DATABASE="+u.app, "JETPRIMER_SECRET="+schooltest.Secret)
	u.begin()
}

// begin runs the program until it says that it serves.
func (u *under) begin() {
	out, err := u.cmd.StdoutPipe()
	require.NoError(u, err)
	require.NoError(u, u.cmd.Start())
	_, err = bufio.NewReader(out).ReadString('\n')
	require.NoError(u, err)
}

func (u *under) kill() {
	_ = u.cmd.Process.Kill()
	_ = u.cmd.Wait()
}

func (u *under) database() {
	var err error
	u.pg, err = pgserver.Start(context.Background(), u.dir, pgserver.Options{Port: u.port})
	require.NoError(u, err)
	u.port = u.pg.Port
	go func(pg *pgserver.Cluster) { _ = pg.Keep(context.Background(), func(string) {}) }(u.pg) // as the program does
}

// guest is everybody's sign-in.
type guest struct {
	mu     sync.Mutex
	url    string
	client *http.Client
	// signIns counts how often somebody had to sign in, failures how often the school said
	// that it could not.
	signIns  int
	failures atomic.Int64
}

func (g *guest) signIn() {
	g.mu.Lock()
	defer g.mu.Unlock()
	if answer, err := g.client.Get(g.url + "/api/v1/session"); err == nil {
		_ = answer.Body.Close()
		if answer.StatusCode == http.StatusOK {
			return
		}
	}
	body := fmt.Sprintf(`{"email":%q,"password":%q}`, demo.Okonjo.Email, demo.Password)
	answer, err := g.client.Post(g.url+"/api/v1/session", "application/json", strings.NewReader(body))
	if err != nil {
		return
	}
	_ = answer.Body.Close()
	if answer.StatusCode == http.StatusOK {
		g.signIns++
	}
}

// send brings what waits to the school, as far as it gets.
func (g *guest) send(tab *tablet, most int) error {
	body, err := json.Marshal(map[string]any{"events": tab.waiting[:min(most, len(tab.waiting))]})
	if err != nil {
		return err
	}
	answer, err := g.client.Post(g.url+"/api/v1/lessons/"+tab.lesson+"/events", "application/json",
		bytes.NewReader(body))
	if err != nil {
		return nil // it comes again
	}
	defer answer.Body.Close()
	switch {
	case answer.StatusCode == http.StatusUnauthorized:
		g.signIn()
		return nil
	case answer.StatusCode == http.StatusServiceUnavailable, answer.StatusCode == http.StatusTooManyRequests,
		answer.StatusCode == http.StatusRequestTimeout:
		g.failures.Add(1)
		return nil
	case answer.StatusCode != http.StatusOK:
		said, _ := io.ReadAll(answer.Body)
		return fmt.Errorf("the school answered %s: %s", answer.Status, said)
	}
	var said struct{ Answers []lesson.Taken }
	if json.NewDecoder(answer.Body).Decode(&said) != nil {
		return nil // cut short
	}
	return tab.settle(said.Answers)
}

// kills is how often the program is killed: fewer times in the proof than by the command.
func kills() int {
	if n, err := strconv.Atoi(os.Getenv("JETPRIMER_FAULT_ROUNDS")); err == nil {
		return n
	}
	return 15
}

// diskMost is how large the disk of the data is, where it is one of its own.
const diskMost = "1500m"

// ownDisk gives a folder a disk of its own, in memory, where that may be done.
func ownDisk(t testing.TB, dir string) bool {
	if err := exec.Command("mount", "-t", "tmpfs", "-o", "size="+diskMost+",mode=755", "tmpfs", dir).Run(); err != nil {
		t.Logf("no disk is filled: %v", err)
		return false
	}
	t.Cleanup(func() { _ = exec.Command("umount", "-l", dir).Run() })
	return true
}

// TestSyncUnderFaults: twenty tablets bring their marks while the program is killed again and
// again, every fifth time the database with it, the disk runs full, and the clock of the
// program stands a day ahead. What was acknowledged is there, once; nobody has to sign in
// again.
func TestSyncUnderFaults(t *testing.T) {
	ctx := context.Background()
	program := filepath.Join(t.TempDir(), "jetprimer")
	out, err := exec.Command("go", "build", "-o", program, "../cmd/jetprimer").CombinedOutput()
	require.NoError(t, err, string(out))
	dir, err := os.MkdirTemp("", "jetprimer-faults-")
	require.NoError(t, err)
	whole := dir
	t.Cleanup(func() { _ = os.RemoveAll(whole) })
	roomy := ""
	if ownDisk(t, dir) {
		roomy = dir
		dir = filepath.Join(dir, "data")
	}
	free, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	u := &under{TB: t, program: program, dir: dir, roomy: roomy, url: "http://" + free.Addr().String()}
	require.NoError(t, free.Close())
	u.database()
	owner, app, err := store.Provision(ctx, u.pg.URL, "faults", "owner", "app")
	require.NoError(t, err)
	u.app = app
	require.NoError(t, store.Migrate(ctx, owner))
	ships, err := catalog.Shipped()
	require.NoError(t, err)
	s, err := store.Open(ctx, app, schooltest.Secret, ships)
	require.NoError(t, err)
	hash, err := argon2id.CreateHash(demo.Password, &argon2id.Params{
		Memory: 8 * 1024, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32,
	})
	require.NoError(t, err)
	require.NoError(t, demo.Load(ctx, s, ships, schooltest.Day, hash))
	require.NoError(t, s.Close())
	u.serve()
	t.Cleanup(func() { u.kill(); _ = u.pg.Stop() })

	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	g := &guest{url: u.url, client: &http.Client{Jar: jar, Timeout: 3 * time.Second}}
	g.signIn()
	var over atomic.Bool
	tablets := make([]*tablet, 20)
	var crowd sync.WaitGroup
	for i := range tablets {
		tab := newTablet()
		tablets[i] = tab
		crowd.Go(func() {
			random := rand.New(rand.NewPCG(uint64(i), 20))
			for marks := 0; !over.Load() || len(tab.waiting) > 0; {
				if !over.Load() && marks < 400 {
					tab.mark(lesson.KindNote, `{"words":"while things break"}`)
					marks++
				}
				if len(tab.waiting) > 0 {
					if err := g.send(tab, 1+random.IntN(12)); err != nil {
						t.Error(err)
						return
					}
				}
				time.Sleep(time.Duration(10+random.IntN(40)) * time.Millisecond)
			}
		})
	}
	random := rand.New(rand.NewPCG(50, 10))
	many, databases, full := kills(), 0, 0
	for kill := range many {
		time.Sleep(time.Duration(50+random.IntN(200)) * time.Millisecond)
		if kill%5 == 4 {
			u.pg.Kill()
			u.database()
			databases++
		}
		u.kill()
		switch kill {
		case many / 3:
			u.serve()
			if before := g.failures.Load(); u.fill(3 * time.Second) {
				full++
				assert.Greater(t, g.failures.Load(), before, "a full disk is told as a school that cannot just now")
			}
		case many / 2:
			u.serveAhead(24 * time.Hour)
			time.Sleep(2 * time.Second)
			u.kill()
			u.serve()
		default:
			u.serve()
		}
	}
	over.Store(true)
	crowd.Wait()

	conn, err := pgx.Connect(ctx, owner)
	require.NoError(t, err)
	defer conn.Close(ctx)
	made := 0
	for _, tab := range tablets {
		rows, err := conn.Query(ctx, "select id::text from lesson_events where lesson_id = $1 order by id", tab.lesson)
		require.NoError(t, err)
		held, err := pgx.CollectRows(rows, pgx.RowTo[string])
		require.NoError(t, err)
		assert.Equal(t, ids(tab.made), held, "lesson %s", tab.lesson)
		made += len(tab.made)
	}
	assert.Greater(t, made, 1000)
	assert.Equal(t, 1, g.signIns, "sign-ins outlive the program and the database")
	t.Logf("%d marks of 20 tablets, %d kills of the program, %d of the database, %d times a full disk, the clock a "+
		"day ahead: all there, once", made, many, databases, full)
	s, err = store.Open(ctx, app, schooltest.Secret, ships)
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t,
		s.In(ctx, demo.SchoolID, func(_ context.Context,
			tx *store.Tx) error {
			_, err := tx.VerifyChain()
			return err
		}))
}
