// Runs a Python script with every file of a folder beside it: node small_interpreter.mjs INTERPRETER FOLDER SCRIPT
import fs from 'node:fs';
const [, , interpreter, folder, script] = process.argv;
const { loadMicroPython } = await import(interpreter + '/package/micropython.mjs');
const python = await loadMicroPython({ heapsize: 16 * 1024 * 1024, stdout: (line) => console.log(line) });
for (const name of fs.readdirSync(folder))
  if (fs.statSync(folder + '/' + name).isFile()) python.FS.writeFile('/' + name, fs.readFileSync(folder + '/' + name));
python.runPython("import sys\nsys.path.append('/')\n" + fs.readFileSync(folder + '/' + script, 'utf8'));
