#!/usr/bin/env bash
# A Slurm of one node for tests, on a machine without systemd, with all of its files in a folder:
#   one-node.sh start FOLDER   writes its configuration there and starts munged, slurmctld, slurmd
#   one-node.sh stop FOLDER    stops what it started, and returns when none of it writes any more
# After a start, export SLURM_CONF=FOLDER/slurm.conf for the commands that talk to it. Needs root.
set -euo pipefail
what=${1:?start or stop}
folder=$(mkdir -p "${2:?folder}" && cd "$2" && pwd)
export SLURM_CONF="$folder/slurm.conf"
socket="$folder/munge.socket"

is_up() { [ -s "$1" ] && kill -0 "$(cat "$1")" 2>/dev/null; }
wait_for() { # up to 20 s for a command to succeed
  for _ in $(seq 100); do
    if "$@" >/dev/null 2>&1; then return 0; fi
    sleep 0.2
  done
  echo "one-node.sh: waited in vain for: $*" >&2
  return 1
}

ended() { ! kill -0 "$1" 2>/dev/null; }

# The daemons write their state as they end: whoever removes the folder must come after that.
stop() {
  local name pid
  for name in slurmd slurmctld munged; do
    if is_up "$folder/$name.pid"; then
      pid=$(cat "$folder/$name.pid")
      kill "$pid" 2>/dev/null || true
      wait_for ended "$pid" || kill -KILL "$pid" 2>/dev/null || true
    fi
  done
}

start() {
  local host cores memory port
  # another one may be running, or have been left by a test that was killed
  port=$((20000 + $$ % 20000))
  host=$(hostname -s)
  cores=$(nproc)
  memory=$(awk '/MemTotal/ { print int($2 / 1024 * 0.7) }' /proc/meminfo)
  chmod 755 "$folder"
  mkdir -p "$folder/controller" "$folder/node"
  # munged takes nothing that others may write to, and has its own user by default
  head -c 1024 /dev/urandom >"$folder/munge.key"
  chmod 400 "$folder/munge.key"
  munged --force --key-file="$folder/munge.key" --socket="$socket" --pid-file="$folder/munged.pid" \
    --log-file="$folder/munged.log" --seed-file="$folder/munge.seed"
  wait_for munge --socket="$socket" -n
  cat >"$SLURM_CONF" <<CONF
ClusterName=trial
SlurmctldHost=$host(127.0.0.1)
SlurmctldPort=$port
SlurmdPort=$((port + 1))
SlurmUser=root
AuthType=auth/munge
AuthInfo=socket=$socket
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
JobAcctGatherType=jobacct_gather/none
AccountingStorageType=accounting_storage/none
SchedulerParameters=sched_interval=1,bf_interval=1,batch_sched_delay=0
SelectType=select/cons_tres
SelectTypeParameters=CR_Core
ReturnToService=2
KillWait=2
StateSaveLocation=$folder/controller
SlurmdSpoolDir=$folder/node
SlurmctldPidFile=$folder/slurmctld.pid
SlurmdPidFile=$folder/slurmd.pid
SlurmctldLogFile=$folder/slurmctld.log
SlurmdLogFile=$folder/slurmd.log
NodeName=$host NodeAddr=127.0.0.1 CPUs=$cores RealMemory=$memory State=UNKNOWN
PartitionName=night Nodes=$host Default=YES MaxTime=INFINITE State=UP
CONF
  slurmctld
  slurmd
  wait_for sh -c "sinfo -h -o %T | grep -qE '^(idle|mixed|allocated)'"
}

case "$what" in
  start) start ;;
  stop) stop ;;
  *)
    echo "one-node.sh: $what: expected start or stop" >&2
    exit 2
    ;;
esac
