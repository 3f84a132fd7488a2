package server

import (
	"bytes"
	"crypto/sha256"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
)

// unchanged answers a question whose answer the asker has already with 304 and no body.
// Each JSON answer has the hash of its body as its ETag; the ETag is weak, since the
// body may be compressed on its way.
func unchanged(c *gin.Context) {
	if c.Request.Method != http.MethodGet || !strings.HasPrefix(c.Request.URL.Path, "/api/") {
		return
	}
	w := &tagWriter{ResponseWriter: c.Writer}
	c.Writer = w
	c.Next()
	c.Writer = w.ResponseWriter
	if !w.holds {
		return
	}
	tag := fmt.Sprintf(`W/"%x"`, sha256.Sum256(w.body.Bytes()))
	c.Header("ETag", tag)
	if c.GetHeader("If-None-Match") == tag {
		c.Status(http.StatusNotModified)
		c.Writer.WriteHeaderNow()
		return
	}
	_, _ = c.Writer.Write(w.body.Bytes()) // nobody is left to be told of a failure
}

// tagWriter holds a JSON answer back until all of it is there; everything else passes.
type tagWriter struct {
	gin.ResponseWriter
	body  bytes.Buffer
	holds bool
}

func (w *tagWriter) Write(p []byte) (int, error) {
	if w.Status() == http.StatusOK && !w.Written() &&
		strings.HasPrefix(w.Header().Get("Content-Type"), "application/json") {
		w.holds = true
		return w.body.Write(p)
	}
	return w.ResponseWriter.Write(p)
}

func (w *tagWriter) WriteString(s string) (int, error) { return w.Write([]byte(s)) }

// Unwrap gives http.ResponseController the connection.
func (w *tagWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }
