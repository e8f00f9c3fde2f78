<?php

// Loaded before PHPUnit by mutate.php: one class of core/ comes from another file.

declare(strict_types=1);

require dirname(__DIR__, 2).'/vendor/autoload.php';

// Before Composer's own loader, which puts itself first.
$mutant = explode('=', (string) getenv('GESCHENK_MUTANT'), 2);
spl_autoload_register(static function (string $class) use ($mutant): void {
    if (2 === count($mutant) && $class === $mutant[0]) {
        require $mutant[1];
    }
}, true, true);
