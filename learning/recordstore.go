package learning

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"reflect"
	"sync"
	"time"

	"github.com/google/uuid"
)

// LocalStore takes statements as a learning-record store does, on this machine
// only, and keeps them in a file, one a line.
type LocalStore struct {
	// URL is the address that statements are sent to.
	URL    string
	server *http.Server
	lock   sync.Mutex
	file   *os.File
	held   map[string]any
}

const requestMost = 16 << 20

// StartLocalStore begins to take statements on an address of this machine into a
// file; what the file holds already is held.
func StartLocalStore(listen, file string) (*LocalStore, error) {
	f, err := os.OpenFile(file, os.O_RDWR|os.O_CREATE|os.O_APPEND, 0o600)
	if err != nil {
		return nil, err
	}
	s := &LocalStore{file: f, held: map[string]any{}}
	lines := bufio.NewScanner(f)
	lines.Buffer(nil, requestMost)
	for lines.Scan() {
		var one map[string]any
		if err := json.Unmarshal(lines.Bytes(), &one); err != nil {
			_ = f.Close()
			return nil, fmt.Errorf("%s holds a line that is no statement: %w", file, err)
		}
		s.held[fmt.Sprint(one["id"])] = one
	}
	if err := lines.Err(); err != nil {
		_ = f.Close()
		return nil, err
	}
	listener, err := net.Listen("tcp", listen)
	if err != nil {
		_ = f.Close()
		return nil, fmt.Errorf("listening for statements: %w", err)
	}
	s.URL = "http://" + listener.Addr().String() + "/xapi"
	mux := http.NewServeMux()
	mux.HandleFunc("POST /xapi/statements", s.take)
	mux.HandleFunc("GET /xapi/statements", s.give)
	s.server = &http.Server{Handler: mux, ReadTimeout: time.Minute, WriteTimeout: time.Minute}
	go func() { _ = s.server.Serve(listener) }() // it ends with Close
	return s, nil
}

// Close ends it; the statements stay.
func (s *LocalStore) Close() error {
	_ = s.server.Close()
	return s.file.Close()
}

// Count is how many statements it has.
func (s *LocalStore) Count() int {
	s.lock.Lock()
	defer s.lock.Unlock()
	return len(s.held)
}

func (s *LocalStore) take(w http.ResponseWriter, r *http.Request) {
	if r.Header.Get("X-Experience-API-Version") == "" {
		http.Error(w, "the version of the statements is not said", http.StatusBadRequest)
		return
	}
	data, err := io.ReadAll(http.MaxBytesReader(w, r.Body, requestMost))
	if err != nil {
		http.Error(w, err.Error(), http.StatusRequestEntityTooLarge)
		return
	}
	var all []map[string]any
	if err := json.Unmarshal(data, &all); err != nil {
		http.Error(w, "no list of statements: "+err.Error(), http.StatusBadRequest)
		return
	}
	ids := []string{}
	for i, one := range all {
		if why := wrongStatement(one); why != "" {
			http.Error(w, fmt.Sprintf("statement %d: %s", i+1, why), http.StatusBadRequest)
			return
		}
		ids = append(ids, one["id"].(string))
	}
	s.lock.Lock()
	defer s.lock.Unlock()
	for i, one := range all { // all or none
		if was, has := s.held[ids[i]]; has && !reflect.DeepEqual(was, any(one)) {
			http.Error(w, "another statement is held under "+ids[i], http.StatusConflict)
			return
		}
	}
	for i, one := range all {
		if _, has := s.held[ids[i]]; has {
			continue
		}
		line, err := json.Marshal(one)
		if err == nil {
			_, err = s.file.Write(append(line, '\n'))
		}
		if err != nil {
			http.Error(w, err.Error(), http.StatusInternalServerError)
			return
		}
		s.held[ids[i]] = one
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(ids) // nobody is left to be told of a failure
}

func (s *LocalStore) give(w http.ResponseWriter, r *http.Request) {
	s.lock.Lock()
	one, has := s.held[r.URL.Query().Get("statementId")]
	s.lock.Unlock()
	if !has {
		http.Error(w, "no such statement", http.StatusNotFound)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(one) // nobody is left to be told of a failure
}

// wrongStatement says what of a statement is not as xAPI 1.0.3 has it, as far as
// lessons use it.
func wrongStatement(s map[string]any) string {
	part := func(of map[string]any, name string) map[string]any { m, _ := of[name].(map[string]any); return m }
	iri := func(v any) bool {
		text, _ := v.(string)
		u, err := url.Parse(text)
		return err == nil && u.IsAbs()
	}
	agent := func(a map[string]any) bool {
		account := part(a, "account")
		name, _ := account["name"].(string)
		return a["objectType"] == "Agent" && iri(account["homePage"]) && name != ""
	}
	id, _ := s["id"].(string)
	if _, err := uuid.Parse(id); err != nil {
		return "its id is no UUID"
	}
	object := part(s, "object")
	voiding := part(s, "verb")["id"] == "http://adlnet.gov/expapi/verbs/voided"
	_, noRef := uuid.Parse(fmt.Sprint(object["id"]))
	at, _ := s["timestamp"].(string)
	_, noTime := time.Parse(time.RFC3339, at)
	registration, _ := part(s, "context")["registration"].(string)
	_, noRegistration := uuid.Parse(registration)
	switch {
	case !agent(part(s, "actor")):
		return "its actor is no agent with an account"
	case !iri(part(s, "verb")["id"]):
		return "its verb is no IRI"
	case voiding && (object["objectType"] != "StatementRef" || noRef != nil):
		return "it voids no statement"
	case !voiding && (object["objectType"] != "Activity" || !iri(object["id"])):
		return "its object is no activity"
	case noTime != nil:
		return "its time is no time"
	case noRegistration != nil:
		return "its registration is no UUID"
	case !agent(part(part(s, "context"), "instructor")):
		return "its instructor is no agent"
	}
	if score := part(part(s, "result"), "score"); score != nil {
		scaled, isNumber := score["scaled"].(float64)
		if !isNumber || scaled < -1 || scaled > 1 {
			return "its score is not within -1 and 1"
		}
	}
	for _, holder := range []map[string]any{part(s, "result"), part(s, "context")} {
		for name := range part(holder, "extensions") {
			if !iri(name) {
				return "the extension " + name + " is no IRI"
			}
		}
	}
	return ""
}
