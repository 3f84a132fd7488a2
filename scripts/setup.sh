#!/usr/bin/env bash
# Installs from Debian what this machine lacks: the PostgreSQL server, and with
# --test Chromium, a reader of PDFs and what the race detector links with as well. Debian's own cluster on port 5432 is not made.
set -euo pipefail

wanted=()
ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || command -v initdb >/dev/null || wanted+=(postgresql)
if [ "${1:-}" = --test ]; then
  command -v chromium >/dev/null || wanted+=(chromium)
  command -v pdftotext >/dev/null || wanted+=(poppler-utils)
  command -v gcc >/dev/null || wanted+=(gcc libc6-dev)
fi
[ ${#wanted[@]} -gt 0 ] || exit 0

as_root=()
[ "$(id -u)" = 0 ] || as_root=(sudo)
if ! command -v apt-get >/dev/null; then
  echo "Install these and try again: ${wanted[*]}" >&2
  exit 1
fi
echo "Installing: ${wanted[*]}"
export DEBIAN_FRONTEND=noninteractive
"${as_root[@]}" apt-get update -qq
if printf '%s\n' "${wanted[@]}" | grep -qx postgresql; then
  "${as_root[@]}" apt-get install -y -qq --no-install-recommends postgresql-common >/dev/null
  "${as_root[@]}" sed -i 's/^#\?create_main_cluster.*/create_main_cluster = false/' /etc/postgresql-common/createcluster.conf
fi
"${as_root[@]}" apt-get install -y -qq --no-install-recommends "${wanted[@]}" >/dev/null
