<?php

declare(strict_types=1);

use Geschenk\App\Kernel;

require_once dirname(__DIR__).'/vendor/autoload_runtime.php';

return static fn (array $context): Kernel => new Kernel(
    is_string($context['APP_ENV']) ? $context['APP_ENV'] : 'prod',
    (bool) $context['APP_DEBUG'],
);
