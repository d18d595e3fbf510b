# Sourced by ./wedgecutter and ./test: finds a JDK of release 25 or newer and Maven, and sets
# JAVA_HOME and MVN. Says in one message what to install where it can't.

jdk_release() { # the major release of the JDK in $1, or nothing
  [ -x "$1/bin/javac" ] && sed -n 's/^JAVA_VERSION="\([0-9]*\).*/\1/p' "$1/release" 2>/dev/null
}

find_jdk() {
  local dir release
  for dir in "${WEDGECUTTER_JAVA_HOME:-}" "${JAVA_HOME:-}" /usr/lib/jvm/* /opt/java/* /opt/jdk* \
    "$HOME"/.sdkman/candidates/java/* /Library/Java/JavaVirtualMachines/*/Contents/Home; do
    [ -n "$dir" ] || continue
    release=$(jdk_release "$dir")
    if [ -n "$release" ] && [ "$release" -ge 25 ]; then
      echo "$dir"
      return 0
    fi
  done
  return 1
}

may_install() { [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; }

# Installs the Debian packages among "$@" that are missing, where that is allowed.
need_packages() {
  local missing=() package
  command -v dpkg-query >/dev/null 2>&1 || return 0
  for package in "$@"; do
    dpkg-query -W -f='${db:Status-Status}' "$package" 2>/dev/null | grep -q '^installed' || missing+=("$package")
  done
  [ ${#missing[@]} -gt 0 ] || return 0
  if may_install; then
    echo "installing ${missing[*]}" >&2
    apt-get update -qq >&2 && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >&2
  else
    echo "please install these packages: ${missing[*]}" >&2
    return 1
  fi
}

# Installs a scheduler for tests that start one of their own; its packages' services stay off.
need_scheduler() {
  local policy=/usr/sbin/policy-rc.d made=""
  command -v slurmctld >/dev/null 2>&1 && command -v slurmd >/dev/null 2>&1 && command -v munged >/dev/null 2>&1 && return 0
  if may_install && [ ! -e "$policy" ]; then
    printf '#!/bin/sh\nexit 101\n' >"$policy"
    chmod +x "$policy"
    made=yes
  fi
  need_packages slurmctld slurmd slurm-client munge || true
  if [ -n "$made" ]; then rm -f "$policy"; fi
}

# Sets up readers that are not ours, by which tests read what we write.
need_readers() {
  command -v npm >/dev/null 2>&1 || need_packages nodejs npm
  (cd "$1/scripts/readers" && npm install --legacy-peer-deps --no-package-lock --no-audit --no-fund --silent >/dev/null)
}

if ! JAVA_HOME=$(find_jdk); then
  echo "no JDK 25 or newer found; install one and set WEDGECUTTER_JAVA_HOME to its folder" >&2
  exit 2
fi
export JAVA_HOME
if ! command -v mvn >/dev/null 2>&1; then
  need_packages maven || exit 2
fi
MVN=(mvn -B)
