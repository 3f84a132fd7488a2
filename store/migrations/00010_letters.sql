-- +goose Up

-- The server through which a school sends its letters, encrypted as signing keys
-- are; null for that of the program.
alter table schools add column letters bytea;
grant update (letters) on schools to jetprimer_app;
