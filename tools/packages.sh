# Sourced by ./run and ./test: installs the Debian packages that are missing.
packages_for() {
  local common="g++ cmake ninja-build ccache pkg-config libfmt-dev nlohmann-json3-dev libsimdjson-dev libicu-dev
    libpugixml-dev zlib1g-dev libre2-dev libsqlite3-dev libcsv-dev libcpp-httplib-dev qtkeychain-qt6-dev ca-certificates
    libspdlog-dev librsvg2-bin
    qt6-base-dev libqt6svg6 qt6-image-formats-plugins libgl-dev libcli11-dev fonts-noto-core fonts-ipafont-gothic"
  case "$1" in
    run) echo "$common" ;;
    package) echo "$common lintian dpkg-dev fakeroot desktop-file-utils appstream shared-mime-info xvfb xauth" ;;
    test) echo "$common libgtest-dev libgmock-dev librapidcheck-dev libbenchmark-dev python3 python3-jsonschema
      clang-format clang-tidy clang libclang-rt-14-dev xvfb xauth dbus-daemon at-spi2-core
      python3-pyatspi gir1.2-atspi-2.0" ;;
  esac
}

fail() {
  echo "$(basename "$0"): $*" >&2
  exit 2
}

install_missing() {
  command -v dpkg-query >/dev/null || fail "this is not a Debian system: install by hand: $(echo $(packages_for "$1"))"
  local missing="" package
  for package in $(packages_for "$1"); do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q "ok installed" || missing="$missing $package"
  done
  [ -z "$missing" ] && return 0
  local sudo=""
  if [ "$(id -u)" != 0 ]; then
    command -v sudo >/dev/null || fail "these packages are missing and there is no sudo: run as root: apt-get install$missing"
    sudo=sudo
  fi
  echo "Installing the Debian packages that are missing:$missing"
  $sudo apt-get update -qq || fail "apt-get update failed: is the network there?"
  $sudo env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null ||
    fail "apt-get could not install:$missing"
}

# build PRESET: configures and builds; says in one line what is wrong.
build() {
  local log
  log="build/$1.log"
  mkdir -p build
  # The first build of a tree takes minutes: say so, and show how far it is.
  [ -d "build/$1" ] || echo "Building ($1); the first time takes a few minutes."
  cmake --preset "$1" >"$log" 2>&1 || { tail -n 20 "$log" >&2; fail "configuring failed; the whole output is in $log"; }
  cmake --build --preset "$1" 2>&1 | tee -a "$log" | show_progress
  [ "${PIPESTATUS[0]}" = 0 ] || { grep -E "error|FAILED" "$log" | head -n 20 >&2; fail "building failed; the whole output is in $log"; }
}

# How many of how many steps are done: as they go on a terminal, else one line a minute.
show_progress() {
  if [ -t 1 ]; then
    grep --line-buffered -oE '^\[[0-9]+/[0-9]+\]' | while read -r step; do printf '\r%s  ' "$step"; done
    printf '\r\033[K'
  else
    local step told=$SECONDS
    grep --line-buffered -oE '^\[[0-9]+/[0-9]+\]' | while read -r step; do
      [ $((SECONDS - told)) -ge 60 ] && { echo "  ${step} steps done"; told=$SECONDS; }
    done
    return 0
  fi
}
