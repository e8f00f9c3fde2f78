<?php

declare(strict_types=1);

use Geschenk\App\Kernel;
use Geschenk\Core\Files\Durable\Folder;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Input\ArrayInput;
use Symfony\Component\Console\Output\NullOutput;

require dirname(__DIR__).'/vendor/autoload.php';

// The tests' own data folder, new for every run. Runs beside each other name one each.
$data = getenv('GESCHENK_TEST_DATA') ?: dirname(__DIR__).'/var/test-data';
Folder::remove($data);
Folder::make($data);
// What is unsealed for a test goes with it.
Folder::make($data.'/memory');
$told = ['GESCHENK_DATA' => $data, 'GESCHENK_MEMORY' => $data.'/memory', 'APP_SECRET' => 'only-for-the-tests'];
foreach ($told as $name => $value) {
    putenv("$name=$value");
    $_SERVER[$name] = $_ENV[$name] = $value;
}
// The application is tested as a shop has it: without debugging, which would see by itself that something is newer.
$kernel = new Kernel('test', false);
$made = $kernel->getCacheDir().'/Geschenk_App_KernelTestContainer.php';
$sources = ['src', 'core', 'standin', 'config', 'templates', 'translations', 'tests/Support'];
foreach (is_file($made) ? $sources : [] as $of) {
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator(dirname(__DIR__).'/'.$of)) as $file) {
        assert($file instanceof SplFileInfo);
        if ($file->isFile() && $file->getMTime() > filemtime($made)) {
            Folder::remove($kernel->getCacheDir());
            break 2;
        }
    }
}
$application = new Application($kernel);
$application->setAutoExit(false);
if (0 !== $application->run(
    new ArrayInput(['command' => 'doctrine:migrations:migrate', '--no-interaction' => true]), new NullOutput(),
)) {
    throw new RuntimeException('The tests\' database could not be made.');
}
$kernel->shutdown();
