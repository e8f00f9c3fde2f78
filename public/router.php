<?php

declare(strict_types=1);

// For PHP's built-in server: a built file with the headers of the rest, all else to Symfony. Names of built files carry
// a hash of what is in them, so they may be kept for good.
$path = parse_url(is_string($_SERVER['REQUEST_URI'] ?? null) ? $_SERVER['REQUEST_URI'] : '/', \PHP_URL_PATH);
$types = [
    'js' => 'text/javascript', 'css' => 'text/css', 'svg' => 'image/svg+xml', 'woff2' => 'font/woff2',
    'woff' => 'font/woff', 'png' => 'image/png',
];
$type = is_string($path) ? $types[pathinfo($path, \PATHINFO_EXTENSION)] ?? null : null;
$isBuilt = is_string($path) && 1 === preg_match('#^/build/assets/[\w.-]+$#D', $path);
if (null !== $type && is_string($path) && ($isBuilt || in_array($path, ['/sheet.css', '/mark.svg'], true))
    && is_file(__DIR__.$path)) {
    header('Content-Type: '.$type);
    header('Content-Length: '.filesize(__DIR__.$path));
    header('X-Content-Type-Options: nosniff');
    header("Content-Security-Policy: default-src 'none'; frame-ancestors 'none'");
    header('Referrer-Policy: no-referrer');
    header('Cross-Origin-Resource-Policy: same-origin');
    header('Cache-Control: '.($isBuilt ? 'public, max-age=31536000, immutable' : 'no-cache'));
    readfile(__DIR__.$path);

    return true;
}
if (is_string($path) && str_starts_with($path, '/index.php')) {
    // One way to each address: what is behind this one is no page of its own.
    http_response_code(404);

    return true;
}
$_SERVER['SCRIPT_FILENAME'] = __DIR__.'/index.php';
$_SERVER['SCRIPT_NAME'] = '/index.php';
require __DIR__.'/index.php';
