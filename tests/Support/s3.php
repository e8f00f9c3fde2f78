<?php

declare(strict_types=1);

/**
 * Buckets as files below a folder, by what of S3's REST interface a place needs: put, get, head, delete, several
 * deleted at once, and lists in pages. For PHP's own server; who asks has to have signed (the signature itself is not
 * calculated). https://docs.aws.amazon.com/AmazonS3/latest/API/
 */
$root = (string) getenv('S3_FOLDER');
/** @param array<array-key, mixed> $from */
$told = static fn (array $from, string $name): string => is_string($from[$name] ?? null) ? $from[$name] : '';
$method = $told($_SERVER, 'REQUEST_METHOD');
$path = rawurldecode((string) parse_url($told($_SERVER, 'REQUEST_URI'), \PHP_URL_PATH));
[$bucket, $key] = explode('/', ltrim($path, '/'), 2) + [1 => ''];
$answer = static function (int $status, string $body = ''): never {
    http_response_code($status);
    header('Content-Type: application/xml');
    exit($body);
};
if (!str_starts_with($told($_SERVER, 'HTTP_AUTHORIZATION'), 'AWS4-HMAC-SHA256 Credential=shop/')) {
    $answer(403, '<Error><Code>AccessDenied</Code></Error>');
}
if (!is_dir("$root/$bucket")) {
    $answer(404, '<Error><Code>NoSuchBucket</Code></Error>');
}
// A key is a name here and no path: what is in a bucket has no folders.
$file = static fn (string $key): string => "$root/$bucket/".rawurlencode($key);
if ('' === $key && 'POST' === $method && isset($_GET['delete'])) {
    preg_match_all('~<Key>(.*?)</Key>~', (string) file_get_contents('php://input'), $keys);
    foreach ($keys[1] as $one) {
        @unlink($file(html_entity_decode($one, \ENT_XML1)));
    }
    $answer(200, '<DeleteResult/>');
}
if ('' === $key) {
    $prefix = $told($_GET, 'prefix');
    $delimiter = $told($_GET, 'delimiter');
    // Few, so that whoever lists has to ask again.
    $most = 3;
    // As the second version of the interface has it, and the first.
    $after = $told($_GET, 'continuation-token').$told($_GET, 'marker');
    $keys = array_map(rawurldecode(...), array_diff(scandir("$root/$bucket") ?: [], ['.', '..']));
    sort($keys);
    $entries = [];
    foreach ($keys as $one) {
        if (!str_starts_with($one, $prefix)) {
            continue;
        }
        $at = '' === $delimiter ? false : strpos($one, $delimiter, strlen($prefix));
        $entries[false === $at ? $one : substr($one, 0, $at + 1)] = false !== $at;
    }
    $entries = array_filter($entries, static fn (string $one): bool => $one > $after, \ARRAY_FILTER_USE_KEY);
    $page = array_slice($entries, 0, $most, true);
    $xml = '';
    foreach ($page as $one => $isFolder) {
        $name = htmlspecialchars((string) $one, \ENT_XML1);
        $xml .= $isFolder
            ? "<CommonPrefixes><Prefix>$name</Prefix></CommonPrefixes>"
            : "<Contents><Key>$name</Key><Size>".filesize($file((string) $one)).'</Size>'
                .'<LastModified>2026-01-01T00:00:00.000Z</LastModified></Contents>';
    }
    $isCut = count($page) < count($entries);
    $next = $isCut ? '<NextContinuationToken>'.array_key_last($page).'</NextContinuationToken>' : '';
    $answer(200, '<?xml version="1.0"?><ListBucketResult xmlns="http://s3.amazonaws.com/doc/2006-03-01/">'
        .'<KeyCount>'.count($page).'</KeyCount><IsTruncated>'.($isCut ? 'true' : 'false')."</IsTruncated>$next$xml"
        .'</ListBucketResult>');
}
if ('PUT' === $method) {
    $in = fopen('php://input', 'r');
    file_put_contents($file($key), $in);
    header('ETag: "'.md5_file($file($key)).'"');
    $answer(200);
}
if ('DELETE' === $method) {
    @unlink($file($key));
    $answer(204);
}
if (!is_file($file($key))) {
    $answer(404, 'HEAD' === $method ? '' : '<Error><Code>NoSuchKey</Code></Error>');
}
header('Content-Type: application/octet-stream');
header('Content-Length: '.filesize($file($key)));
header('Last-Modified: Thu, 01 Jan 2026 00:00:00 GMT');
if ('HEAD' !== $method) {
    readfile($file($key));
}
