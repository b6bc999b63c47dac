process.stdout.write('bench\n');
