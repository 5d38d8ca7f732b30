# Installs what is missing: Debian packages, Python and Node packages from the lock files, the built interface.
# Sourced by ./start, ./test and ./finearc. Needs root or sudo only when Debian packages are missing.

ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
VENV="$ROOT/.venv"
PY="$VENV/bin/python"
UV_VERSION=0.13.0
LOGS="$ROOT/var/log"
# Modules are compiled once, also where the environment says not to: each start, worker and test would pay for it again.
unset PYTHONDONTWRITEBYTECODE

say() { printf '  %s\n' "$*" >&2; }
fail() { printf '\n  %s\n\n' "$*" >&2; exit 2; }

# run a step quietly; on failure show the end of its log
step() {
  local name="$1"; shift
  mkdir -p "$LOGS" || fail "The folder $LOGS cannot be made. Is the disk full?"
  if ! "$@" >"$LOGS/$name.log" 2>&1; then
    tail -n 15 "$LOGS/$name.log" >&2
    if grep -qi 'no space left' "$LOGS/$name.log"; then fail "The disk is full. Free some space, then start again."; fi
    fail "Step \"$name\" failed (all of it in var/log/$name.log)."
  fi
}

need_debian() {
  local missing=()
  command -v mariadbd >/dev/null || [ -x /usr/sbin/mariadbd ] || missing+=(mariadb-server-core)
  command -v mariadb-dump >/dev/null || missing+=(mariadb-client)
  ldconfig -p | grep -q libpango-1.0 || missing+=(libpango-1.0-0)
  ldconfig -p | grep -q libpangoft2-1.0 || missing+=(libpangoft2-1.0-0)
  ldconfig -p | grep -q libharfbuzz-subset || missing+=(libharfbuzz-subset0)
  [ -d /usr/share/fonts/truetype/noto ] || missing+=(fonts-noto-core)
  [ "${1:-}" = browser ] && { command -v chromium >/dev/null || missing+=(chromium); }
  [ ${#missing[@]} -eq 0 ] && return
  command -v apt-get >/dev/null || fail "These programs are missing and there is no apt-get here: ${missing[*]}. Install them, then start again."
  local sudo=""
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || fail "Root or sudo is needed to install: ${missing[*]}"
    sudo="sudo"
  fi
  say "Installing Debian packages: ${missing[*]} …"
  step apt-update $sudo apt-get update
  step apt-install $sudo env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends "${missing[@]}"
}

need_python() {
  local python="${PYTHON:-}"
  if [ -z "$python" ]; then
    for name in python3.11 python3; do
      if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))'; then python="$name"; break; fi
    done
  fi
  [ -n "$python" ] || fail "Python 3.11 is needed. Install it (Debian: python3.11), then start again."
  local mark="$VENV/.finearc-compiled-$(sha256sum "$ROOT/requirements.txt" | cut -c1-16)"
  [ -e "$mark" ] && return
  say "Installing Python packages …"
  local uv="$ROOT/.tools/uv/bin/uv"
  [ -x "$uv" ] || step uv "$python" -m pip install -q --target "$ROOT/.tools/uv" "uv==$UV_VERSION"
  [ -x "$PY" ] || step venv "$uv" venv -q --python "$(command -v "$python")" "$VENV"
  step python-packages "$uv" pip sync -q --require-hashes --only-binary :all: --compile-bytecode --python "$PY" "$ROOT/requirements.txt"
  echo "$ROOT/src" >"$("$PY" -c 'import sysconfig; print(sysconfig.get_paths()["purelib"])')/finearc.pth"
  rm -f "$VENV"/.finearc-*
  touch "$mark"
}

need_node() {
  command -v node >/dev/null || fail "Node 20 is needed. Install it, then start again."
  local major; major="$(node -p 'process.versions.node.split(".")[0]')"
  [ "$major" -ge 20 ] || fail "Node 20 or newer is needed, this is $(node --version)."
  local mark="$ROOT/web/node_modules/.finearc-$(sha256sum "$ROOT/web/package-lock.json" | cut -c1-16)"
  [ -e "$mark" ] && return
  say "Installing Node packages …"
  (cd "$ROOT/web" && step node-packages npm ci --no-audit --no-fund --ignore-scripts) || exit 2
  touch "$mark"
}

need_interface() {
  local sum
  sum="$(cd "$ROOT" && find web/src web/public web/index.html web/practice.html web/vite.config.ts web/package-lock.json web/scripts src/finearc -type f \
    -not -path '*/generated/*' -not -path '*/testing/*' -not -name '*.test.*' -not -name '*.pyc' -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-16)"
  local mark="$ROOT/web/dist/.finearc-$sum"
  [ -e "$mark" ] && return
  say "Building the interface …"
  step openapi "$PY" -c 'import sys; from pathlib import Path; from finearc.main import write_generated; write_generated(*map(Path, sys.argv[1:]))' \
    "$ROOT/var/openapi.json" "$ROOT/web/src/lib/generated/measures.ts"
  (cd "$ROOT/web" && step typed-client npm run -s api && step interface npm run -s build) || exit 2
  touch "$mark"
}
