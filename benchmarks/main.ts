console.log('no benchmarks yet')
