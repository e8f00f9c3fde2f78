<?php

declare(strict_types=1);

// For PHP's built-in server: a built file as it is, with a long life since its name carries a hash; all else to
// Symfony.
$path = parse_url(is_string($_SERVER['REQUEST_URI'] ?? null) ? $_SERVER['REQUEST_URI'] : '/', \PHP_URL_PATH);
$isPublic = is_string($path)
    && (str_starts_with($path, '/build/') || in_array($path, ['/sheet.css', '/mark.svg'], true));
if ($isPublic && !str_contains($path, '..') && is_file(__DIR__.$path)) {
    return false;
}
$_SERVER['SCRIPT_FILENAME'] = __DIR__.'/index.php';
$_SERVER['SCRIPT_NAME'] = '/index.php';
require __DIR__.'/index.php';
