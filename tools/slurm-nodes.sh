#!/usr/bin/env bash
# A queue of two nodes on this machine, from Debian's packages (slurmctld, slurmd, slurm-client, munge), to try array jobs on: it listens on loopback alone.
#
#   tools/slurm-nodes.sh start DIR     starts it, with all its files in DIR; then `export SLURM_CONF=DIR/slurm.conf`
#   tools/slurm-nodes.sh stop DIR      ends what was started
#
# It takes an administrator, as the nodes run the jobs of others.
set -euo pipefail

folder=$(mkdir -p "$2" && cd "$2" && pwd)

begin() { # NAME COMMAND…
    local name=$1
    shift
    "$@" </dev/null >"$folder/$name.log" 2>&1 &
    echo $! >>"$folder/pids"
}

start() {
    # Ports that are free now, next to each other.
    local port=$((20000 + RANDOM % 20000))
    while (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; do port=$((port + 7)); done

    mkdir -p "$folder/state" "$folder/spool-n1" "$folder/spool-n2"
    head -c 1024 /dev/urandom >"$folder/munge.key"
    chown munge "$folder/munge.key"
    chmod 400 "$folder/munge.key"
    # Everything that signs what the daemons say to each other belongs to its own user.
    mkdir -p "$folder/munge" && chown munge "$folder/munge" && chmod 755 "$folder/munge"
    chmod 755 "$folder"
    begin munged setpriv --reuid munge --regid munge --clear-groups munged --foreground --force --key-file "$folder/munge.key" --socket "$folder/munge/socket" --pid-file "$folder/munge/pid" --seed-file "$folder/munge/seed"

    cat >"$folder/slurm.conf" <<CONF
ClusterName=trial
SlurmctldHost=localhost(127.0.0.1)
SlurmctldPort=$port
SlurmUser=root
AuthType=auth/munge
AuthInfo=socket=$folder/munge/socket
CryptoType=crypto/munge
CommunicationParameters=NoInAddrAny,NoCtldInAddrAny
StateSaveLocation=$folder/state
SlurmdSpoolDir=$folder/spool-%n
SlurmctldPidFile=$folder/slurmctld.pid
SlurmdPidFile=$folder/slurmd-%n.pid
SlurmctldLogFile=$folder/slurmctld.log
SlurmdLogFile=$folder/slurmd-%n.log
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
MpiDefault=none
ReturnToService=2
SchedulerParameters=sched_interval=1,batch_sched_delay=0
MinJobAge=3600
NodeName=n1 NodeHostname=localhost NodeAddr=127.0.0.1 Port=$((port + 1)) CPUs=1 RealMemory=1000
NodeName=n2 NodeHostname=localhost NodeAddr=127.0.0.1 Port=$((port + 2)) CPUs=1 RealMemory=1000
PartitionName=all Nodes=n1,n2 Default=YES MaxTime=INFINITE State=UP
CONF
    export SLURM_CONF=$folder/slurm.conf
    for ((i = 0; i < 100; i++)); do [ -S "$folder/munge/socket" ] && break || sleep 0.1; done
    begin slurmctld slurmctld -D -f "$SLURM_CONF"
    begin slurmd-n1 slurmd -D -N n1 -f "$SLURM_CONF"
    begin slurmd-n2 slurmd -D -N n2 -f "$SLURM_CONF"
    for ((i = 0; i < 300; i++)); do
        [ "$(sinfo --noheader --format %T --nodes n1,n2 2>/dev/null | sort -u)" = idle ] && return
        sleep 0.2
    done
    echo "the nodes did not come up; see the logs in $folder" >&2
    tail -5 "$folder"/*.log >&2
    stop
    exit 1
}

stop() {
    [ -f "$folder/pids" ] || return 0
    # In the order opposite to that in which they began.
    for pid in $(tac "$folder/pids"); do kill "$pid" 2>/dev/null || true; done
    for pid in $(cat "$folder/pids"); do for ((i = 0; i < 50; i++)); do kill -0 "$pid" 2>/dev/null && sleep 0.1 || break; done; kill -9 "$pid" 2>/dev/null || true; done
    rm -f "$folder/pids"
}

"$1"
