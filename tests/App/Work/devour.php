<?php

// A worker on a data folder of its own that works on a run of which it dies.

declare(strict_types=1);

use Geschenk\App\Kernel;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\WorkOnRun;
use Symfony\Component\DependencyInjection\ContainerInterface;

require dirname(__DIR__, 3).'/vendor/autoload.php';

$kernel = new Kernel('test', false);
$kernel->boot();
$container = $kernel->getContainer()->get('test.service_container');
assert($container instanceof ContainerInterface);
$desk = $container->get(KeepingDesk::class);
$handler = $container->get(RunHandler::class);
assert($desk instanceof KeepingDesk && $handler instanceof RunHandler);
$run = $desk->askOfShop('devouring', 'orla');
$handler(new WorkOnRun($run->id));
