# Sourced by start, test and loom: installs what is missing and says so in a line.
say() { printf '%s\n' "$*" >&2; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null 2>&1; then sudo "$@"; else
    say "This needs administrator rights: $*"; exit 1
  fi
}

need_packages() {
  missing=""
  for package in "$@"; do
    case "$package" in
      postgresql) ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || missing="$missing $package" ;;
      chromium) [ -x /usr/bin/chromium ] || missing="$missing $package" ;;
      chromium-driver) [ -x /usr/bin/chromedriver ] || missing="$missing $package" ;;
    esac
  done
  [ -z "$missing" ] && return 0
  say "Installing$missing."
  as_root apt-get update -qq >/dev/null
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
}

need_modules() {
  command -v node >/dev/null 2>&1 || { say "Node 20 or newer is needed."; exit 1; }
  sum=$(cksum < package-lock.json)
  if [ "$(cat node_modules/.lock-sum 2>/dev/null)" != "$sum" ]; then
    say "Installing the npm packages of package-lock.json."
    npm ci --no-audit --no-fund --loglevel=error >&2
    printf '%s\n' "$sum" > node_modules/.lock-sum
  fi
}
