<?php

declare(strict_types=1);

$finder = (new PhpCsFixer\Finder())->in([__DIR__.'/core', __DIR__.'/standin', __DIR__.'/src', __DIR__.'/tests', __DIR__.'/migrations', __DIR__.'/config', __DIR__.'/public'])->append([__FILE__, __DIR__.'/bin/console'])->exclude('build')->notPath('reference.php');

return (new PhpCsFixer\Config())
    ->setRiskyAllowed(true)
    ->setRules([
        '@Symfony' => true,
        'declare_strict_types' => true,
        'phpdoc_align' => false,
        'phpdoc_to_comment' => false,
        'phpdoc_summary' => false,
        'single_line_throw' => false,
        'native_function_invocation' => false,
        'global_namespace_import' => false,
        'increment_style' => ['style' => 'pre'],
        'concat_space' => ['spacing' => 'none'],
        'yoda_style' => true,
    ])
    ->setCacheFile(__DIR__.'/var/php-cs-fixer.cache')
    ->setFinder($finder);
