package lessons

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"image/jpeg"
	"net/http"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Bounds of a picture of a finding: its bytes, the pixels of a side, and those of all.
const (
	pictureBytes  = 1 << 20
	pictureSide   = 4096
	picturePixels = 12 << 20
)

// PictureInput names one picture. It is exported so that routes may embed it.
type PictureInput struct {
	ID   string `path:"id" format:"uuid"`
	Hash string `path:"hash" minLength:"64" maxLength:"64" pattern:"^[0-9a-f]{64}$" doc:"the picture's SHA-256, in hexadecimal"`
}

type keepPictureInput struct {
	PictureInput
	RawBody []byte `contentType:"image/jpeg"`
}

func (s Handlers) pictureRoutes() {
	api.Handle(s.API, api.Route{
		ID: "keep-picture", For: access.FindingReaders, Method: http.MethodPut, Path: "/lessons/{id}/pictures/{hash}",
		Summary: "Keep a picture of a finding: JPEG without metadata, at most 1 MB", MaxBodyBytes: pictureBytes + 1,
		Status: http.StatusNoContent,
	}, s.keepPicture)
	api.Handle(s.API, api.Route{
		ID: "picture", For: access.LessonReaders, Method: http.MethodGet, Path: "/lessons/{id}/pictures/{hash}",
		Summary: "A picture of a finding",
	}, s.picture)
}

// named refuses a picture that is not the one it is named after.
func named(data []byte, hash string) error {
	sum := sha256.Sum256(data)
	if hex.EncodeToString(sum[:]) != hash {
		return form.Bad("hash", "is not that of the picture: it was changed on its way; it is kept on your device")
	}
	return nil
}

// fitPicture refuses what is no picture, says more than it shows, or would take long to be
// drawn.
func fitPicture(data []byte) error {
	if err := plainJPEG(data); err != nil {
		return err
	}
	config, err := jpeg.DecodeConfig(bytes.NewReader(data))
	switch {
	case err != nil:
		return form.Bad("picture", "is no JPEG picture")
	case config.Width > pictureSide || config.Height > pictureSide || config.Width*config.Height > picturePixels:
		return form.Bad("picture", "must be at most %d pixels a side, and %d in all", pictureSide, picturePixels)
	}
	if _, err := jpeg.Decode(bytes.NewReader(data)); err != nil {
		return form.Bad("picture", "is broken: %v", err)
	}
	return nil
}

// keepPicture keeps a picture that a finding names: what nobody asked for is not looked at.
func (s Handlers) keepPicture(ctx context.Context, w api.Person, in *keepPictureInput) (*struct{}, error) {
	if err := named(in.RawBody, in.Hash); err != nil {
		return nil, err
	}
	var kept bool
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if _, err := tx.Lesson(in.ID); err != nil {
			return err
		}
		kept, err = tx.PictureWanted(in.ID, in.Hash)
		return err
	})
	if err != nil || kept {
		return nil, err
	}
	done, err := w.TurnOf(ctx, s.Looking)
	if err != nil {
		return nil, err
	}
	err = fitPicture(in.RawBody)
	done()
	if err != nil {
		return nil, err
	}
	return nil, s.In(ctx, w, func(tx *store.Tx) error {
		return tx.KeepPicture(in.ID, in.Hash, in.RawBody, w.Account, s.Now())
	})
}

type pictureOutput struct {
	ContentType string `header:"Content-Type"`
	Cache       string `header:"Cache-Control"`
	Body        []byte
}

func (s Handlers) picture(ctx context.Context, w api.Person, in *PictureInput) (*pictureOutput, error) {
	out := &pictureOutput{ContentType: "image/jpeg", Cache: "private, max-age=86400"}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		l, err := tx.Lesson(in.ID)
		if err != nil {
			return err
		}
		if err := s.MaySee(tx, w, l.StudentID); err != nil {
			return err
		}
		out.Body, err = tx.Picture(in.ID, in.Hash)
		return err
	})
	return out, err
}
