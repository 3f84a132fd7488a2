-- +goose Up

-- How many further lessons would bring an element to standard, so that the next lessons of
-- a whole school are proposed without reading all that was ever seen. It is null
-- where a program of the version before wrote the row, until this version makes it anew.
alter table standings add column needs integer;
