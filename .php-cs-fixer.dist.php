<?php

declare(strict_types=1);

$folders = ['core', 'standin', 'src', 'tests', 'migrations', 'config', 'public'];
$finder = (new PhpCsFixer\Finder())
    ->in(array_map(static fn (string $folder): string => __DIR__.'/'.$folder, $folders))
    ->append([__FILE__, __DIR__.'/bin/console'])
    ->exclude('build')
    ->notPath('reference.php');

return (new PhpCsFixer\Config())
    ->setRiskyAllowed(true)
    ->setRules([
        '@Symfony' => true,
        'class_definition' => ['multi_line_extends_each_single_line' => true],
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
